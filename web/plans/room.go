// Package plans is the planner: molds or weights in, sheets out; and the bench list of a day.
package plans

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
