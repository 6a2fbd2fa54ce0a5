// Package selling is the pages of what is sold: products and their bars, labels, what an assessor and suppliers say,
// traces, recalls and complaints.
package selling

import (
	"embed"

	"ashshelf/store"
	"ashshelf/web/page"
)

// Pages are the templates of the room.
//
//go:embed *.html
var Pages embed.FS

// Room shows it.
type Room struct{ *page.Kit }

// SellingRoutes are its addresses.
func (s *Room) SellingRoutes(r page.Routes) {
	r.Get("/products", s.readyStock)
	r.Get("/products/new", page.StartNew(store.Products))
	r.Get("/products/new/{token}", s.product)
	r.Post("/products/new/{token}", s.keepProduct)
	r.Post("/products/new/{token}/live", s.liveProduct)
	r.Get("/products/{oid}", s.product)
	r.Post("/products/{oid}", s.keepProduct)
	r.Post("/products/{oid}/live", s.liveProduct)
	r.Get("/products/{oid}/bars", s.bars)
	r.Post("/products/{oid}/photo", s.photo)
	r.Post("/products/{oid}/{act}", s.barsAct)
	r.Get("/products/{oid}/labels", s.labels)
	r.Get("/products/{oid}/file", s.file)
	r.Get("/labels/{oid}", s.run)
	r.Get("/labels", s.rules)
	r.Post("/labels", s.keepRules)
	r.Get("/sheets", s.rules)
	r.Get("/sheets/new", page.StartNew(store.Sheets))
	r.Get("/sheets/new/{token}", s.sheet)
	r.Post("/sheets/new/{token}", s.keepSheet)
	r.Post("/sheets/new/{token}/live", s.liveSheet)
	r.Get("/sheets/{oid}", s.sheet)
	r.Post("/sheets/{oid}", s.keepSheet)
	r.Post("/sheets/{oid}/live", s.liveSheet)
	r.Get("/allergens", s.allergens)
	r.Post("/allergens", s.keepAllergens)
	r.Get("/assessments/{oid}", s.assessment)
	r.Post("/assessments/{oid}", s.keepAssessment)
	r.Get("/trace", s.trace)
	r.Get("/recalls", s.recalls)
	r.Post("/recalls", s.begin)
	r.Get("/recalls/{oid}", s.recall)
	r.Get("/recalls/{oid}/letter", s.letter)
	r.Get("/recalls/{oid}/bars.csv", s.recallCSV)
	r.Post("/recalls/{oid}/{act}", s.recallAct)
	r.Get("/complaints", s.complaints)
	r.Post("/complaints", s.complain)
	r.Post("/complaints/{oid}", s.answer)
}
