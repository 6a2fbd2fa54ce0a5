// Package recipes is the book of recipes: the bench where one is written and answers while it
// is typed, its cards, and files in and out.
package recipes

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
