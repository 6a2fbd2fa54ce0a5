// Package document is what the shop writes down of a recipe, a mold, a pot, a scent, a
// container, a plan, and of what a lot was made from.
//
// Each is one text that is written once and never altered: a change is a new revision
// beside it. This package says what stands in each, what is checked before it is written,
// and how it is read back, also when it was written by an older program.
package document

import (
	"fmt"

	"ashshelf/archive"
	"ashshelf/soap/additive"
	"ashshelf/soap/assess"
	"ashshelf/soap/cost"
	"ashshelf/soap/inventory"
	"ashshelf/soap/label"
	"ashshelf/soap/lot"
	"ashshelf/soap/market"
	"ashshelf/soap/plan"
	"ashshelf/soap/product"
	"ashshelf/soap/rack"
	"ashshelf/soap/run"
	"ashshelf/soap/sale"
	"ashshelf/soap/tag"
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
	WriteFrozen func(lot.Frozen) archive.Lot
	ReadFrozen  func(archive.Lot) lot.Frozen
	// goverter:ignore Head
	WriteRecipe func(RecipeBody) archive.Recipe
	ReadRecipe  func(archive.Recipe) RecipeBody
	// goverter:ignore Head
	WriteMold func(MoldBody) archive.Mold
	ReadMold  func(archive.Mold) MoldBody
	// goverter:ignore Head
	WriteTool func(ToolBody) archive.Tool
	ReadTool  func(archive.Tool) ToolBody
	// goverter:ignore Head
	WriteScent func(ScentBody) archive.KeptScent
	ReadScent  func(archive.KeptScent) ScentBody
	// goverter:ignore Head
	WriteRack  func(rack.Rack) archive.Rack
	ReadRack   func(archive.Rack) rack.Rack
	WriteApart func([]rack.Apart) []archive.Apart
	ReadApart  func([]archive.Apart) []rack.Apart
	// goverter:ignore Head
	WriteContainer func(StockBody) archive.Container
	ReadContainer  func(archive.Container) StockBody
	// goverter:ignore Head
	WritePlan  func(PlanBody) archive.KeptPlan
	ReadPlan   func(archive.KeptPlan) PlanBody
	WriteSheet func([]plan.Section) []archive.Section
	ReadSheet  func([]archive.Section) []plan.Section
	WritePot   func(plan.Plan) archive.Plan
	ReadPot    func(archive.Plan) plan.Plan
	// goverter:ignore Head
	WriteMaterial func(inventory.Material) archive.Material
	ReadMaterial  func(archive.Material) inventory.Material
	// goverter:ignore Head
	WriteOrder func(inventory.Order) archive.SupplyOrder
	ReadOrder  func(archive.SupplyOrder) inventory.Order
	// goverter:ignore Head
	WriteCost func(cost.Frozen) archive.LotCost
	ReadCost  func(archive.LotCost) cost.Frozen
	// goverter:ignore Head
	WriteProduct func(product.Product) archive.Product
	ReadProduct  func(archive.Product) product.Product
	// goverter:ignore Head
	WriteLabelSheet func(tag.Sheet) archive.Sheet
	ReadLabelSheet  func(archive.Sheet) tag.Sheet
	// goverter:ignore Head
	WriteLabelRules func(label.Rules) archive.LabelRules
	ReadLabelRules  func(archive.LabelRules) label.Rules
	// goverter:ignore Head
	WriteDeclaration func(label.Declaration) archive.Declaration
	ReadDeclaration  func(archive.Declaration) label.Declaration
	// goverter:ignore Head
	WriteAssessment func(assess.Assessment) archive.Assessment
	ReadAssessment  func(archive.Assessment) assess.Assessment
	// goverter:ignore Head
	WritePrinted func(tag.Printed) archive.PrintedLabel
	ReadPrinted  func(archive.PrintedLabel) tag.Printed
	// goverter:ignore Head
	WriteMarket func(market.Market) archive.Market
	ReadMarket  func(archive.Market) market.Market
	// goverter:ignore Head
	WriteMarketHome func(market.Record) archive.MarketHome
	ReadMarketHome  func(archive.MarketHome) market.Record
	WriteTillLines  func([]market.Line) []archive.TillLine
	ReadTillLines   func([]archive.TillLine) []market.Line
	// goverter:ignore Head
	WriteSaleRules func(sale.Rules) archive.SaleRules
	ReadSaleRules  func(archive.SaleRules) sale.Rules
	// goverter:ignore Head
	WriteSaleOrder func(sale.Order) archive.SaleOrder
	ReadSaleOrder  func(archive.SaleOrder) sale.Order
	// goverter:ignore Head
	WriteSaleDocument func(sale.Document) archive.SaleDocument
	ReadSaleDocument  func(archive.SaleDocument) sale.Document
	// goverter:ignore Head
	WriteBench func(run.Bench) archive.Bench
	ReadBench  func(archive.Bench) run.Bench
	// goverter:ignore Scent Portion Part Oil Molds
	ReadUse func(archive.Use) additive.Use
)

// Decode reads a body; what says whose it is.
func Decode[T any, A any, P interface {
	*A
	archive.Body
}](what string, read func(A) T, body []byte) (out T, err error) {
	a, err := archive.Read[A, P](body)
	if err != nil {
		return out, fmt.Errorf("%s: %w", what, err)
	}
	return read(a), nil
}

// Encode writes a body.
func Encode(body any) ([]byte, error) {
	switch b := body.(type) {
	case lot.Frozen:
		return archive.Write(WriteFrozen(b))
	case RecipeBody:
		return archive.Write(WriteRecipe(b))
	case MoldBody:
		return archive.Write(WriteMold(b))
	case ToolBody:
		return archive.Write(WriteTool(b))
	case ScentBody:
		return archive.Write(WriteScent(b))
	case rack.Rack:
		return archive.Write(WriteRack(b))
	case []rack.Apart:
		return archive.Write(archive.Rules{Apart: WriteApart(b)})
	case StockBody:
		return archive.Write(WriteContainer(b))
	case PlanBody:
		return archive.Write(WritePlan(b))
	case inventory.Material:
		return archive.Write(WriteMaterial(b))
	case inventory.Order:
		return archive.Write(WriteOrder(b))
	case cost.Frozen:
		return archive.Write(WriteCost(b))
	case product.Product:
		return archive.Write(WriteProduct(b))
	case tag.Sheet:
		return archive.Write(WriteLabelSheet(b))
	case label.Rules:
		return archive.Write(WriteLabelRules(b))
	case label.Declaration:
		return archive.Write(WriteDeclaration(b))
	case assess.Assessment:
		return archive.Write(WriteAssessment(b))
	case tag.Printed:
		return archive.Write(WritePrinted(b))
	case market.Market:
		return archive.Write(WriteMarket(b))
	case market.Record:
		return archive.Write(WriteMarketHome(b))
	case []market.Line:
		return archive.Write(archive.TillLines{Lines: WriteTillLines(b)})
	case sale.Rules:
		return archive.Write(WriteSaleRules(b))
	case sale.Order:
		return archive.Write(WriteSaleOrder(b))
	case sale.Document:
		return archive.Write(WriteSaleDocument(b))
	case run.Bench:
		return archive.Write(WriteBench(b))
	case lot.Rescale:
		return archive.Write(archive.Rescale{Sheet: WriteSheet(b.Sheet), Pot: WritePot(b.Pot)})
	}
	return nil, fmt.Errorf("%T is not written by itself", body)
}
