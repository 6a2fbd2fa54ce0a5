// Package guide is where one looks something up: any record by a word of its name, and the
// guide to the program, page by page.
package guide

import (
	"embed"

	"ashshelf/web/page"
)

// Pages are the templates of the room.
//
//go:embed *.html
var Pages embed.FS

// Room shows it.
type Room struct{ *page.Kit }

// GuideRoutes are the addresses of the search and the guide.
func (s *Room) GuideRoutes(r page.Routes) {
	r.Get("/find", s.find)
	r.Get("/guide", s.guide)
	r.Get("/guide/{page}", s.guide)
}
