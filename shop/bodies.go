package shop

import (
	"fmt"

	"ashshelf/archive"
	"ashshelf/soap/additive"
	"ashshelf/soap/lot"
	"ashshelf/soap/plan"
	"ashshelf/soap/rack"
)

//go:generate go tool goverter gen .

// How the core's words become what is written, and back. The functions are
// generated, field by field: a field of the core that is renamed or goes away no
// longer compiles until somebody says what becomes of what was written.

// goverter:variables
// goverter:skipCopySameType yes
// goverter:output:format assign-variable
// goverter:output:file bodies_gen.go
var (
	// goverter:ignore Head
	writeFrozen func(lot.Frozen) archive.Lot
	readFrozen  func(archive.Lot) lot.Frozen
	// goverter:ignore Head
	writeRecipe func(RecipeBody) archive.Recipe
	readRecipe  func(archive.Recipe) RecipeBody
	// goverter:ignore Head
	writeMold func(MoldBody) archive.Mold
	readMold  func(archive.Mold) MoldBody
	// goverter:ignore Head
	writeTool func(ToolBody) archive.Tool
	readTool  func(archive.Tool) ToolBody
	// goverter:ignore Head
	writeScent func(ScentBody) archive.KeptScent
	readScent  func(archive.KeptScent) ScentBody
	// goverter:ignore Head
	writeRack  func(rack.Rack) archive.Rack
	readRack   func(archive.Rack) rack.Rack
	writeApart func([]rack.Apart) []archive.Apart
	readApart  func([]archive.Apart) []rack.Apart
	// goverter:ignore Head
	writeContainer func(StockBody) archive.Container
	readContainer  func(archive.Container) StockBody
	// goverter:ignore Head
	writePlan  func(PlanBody) archive.KeptPlan
	readPlan   func(archive.KeptPlan) PlanBody
	writeSheet func([]plan.Section) []archive.Section
	readSheet  func([]archive.Section) []plan.Section
	writePot   func(plan.Plan) archive.Plan
	readPot    func(archive.Plan) plan.Plan
	// goverter:ignore Scent Portion Part
	readUse func(archive.Use) additive.Use
)

// decode reads a body; what says whose it is.
func decode[T any, A any, P interface {
	*A
	archive.Body
}](what string, read func(A) T, body []byte) (out T, err error) {
	a, err := archive.Read[A, P](body)
	if err != nil {
		return out, fmt.Errorf("%s: %w", what, err)
	}
	return read(a), nil
}

// encode writes a body.
func encode(body any) ([]byte, error) {
	switch b := body.(type) {
	case lot.Frozen:
		return archive.Write(writeFrozen(b))
	case RecipeBody:
		return archive.Write(writeRecipe(b))
	case MoldBody:
		return archive.Write(writeMold(b))
	case ToolBody:
		return archive.Write(writeTool(b))
	case ScentBody:
		return archive.Write(writeScent(b))
	case rack.Rack:
		return archive.Write(writeRack(b))
	case []rack.Apart:
		return archive.Write(archive.Rules{Apart: writeApart(b)})
	case StockBody:
		return archive.Write(writeContainer(b))
	case PlanBody:
		return archive.Write(writePlan(b))
	case lot.Rescale:
		return archive.Write(archive.Rescale{Sheet: writeSheet(b.Sheet), Pot: writePot(b.Pot)})
	}
	return nil, fmt.Errorf("%T is not written by itself", body)
}
