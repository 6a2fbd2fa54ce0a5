// Package copies is how the shop survives its laptop: copies of it, by hand and by
// themselves, the whole shop as an open file, a book on paper, and how it comes back.
package copies

import (
	"embed"
	"sync"

	"ashshelf/web/page"
)

// Pages are the templates of the room.
//
//go:embed *.html
var Pages embed.FS

// Room shows it.
type Room struct {
	*page.Kit

	bringing sync.Mutex // one copy at a time is brought back
}

// RestoreRoutes are the addresses by which an empty shop is restored.
func (s *Room) RestoreRoutes(r page.Routes) {
	r.Get(page.RestorePath, s.restore)
	r.Post(page.RestorePath, s.takeCopy)
}

// CopiesRoutes are the addresses of the copies.
func (s *Room) CopiesRoutes(r page.Routes) {
	r.Get("/copies", s.copies)
	r.Post("/copies", s.keepPlan)
	r.Post("/copies/now", s.makeNow)
	r.Get("/copies/shop.zip", s.download)
	r.Get("/copies/shop.json", s.export)
	r.Get("/copies/book", s.book)
}
