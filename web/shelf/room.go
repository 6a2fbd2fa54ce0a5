// Package shelf is the curing shelf: what is due, the racks as they stand, the round of
// weighings, and the month.
package shelf

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
