// Package setup is what is set once: the first page of a new shop, its settings, and how a
// device comes to trust the house.
package setup

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
