// Package stores is what is in the house: scents, and the weight of a teaspoon of powders.
package stores

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
