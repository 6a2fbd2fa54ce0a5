// Package setup is what is set once: the first page of a new shop, who is at the bench, the
// settings and the people.
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
