// Package molds is the molds and the other equipment: what is measured, what it holds, and
// what a mold learned from its pours.
package molds

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
