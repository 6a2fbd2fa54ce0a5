// Package stock is the lye bench: stocks of lye and blends of fats, what they weigh and are
// worth, and how hot lye becomes.
package stock

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
