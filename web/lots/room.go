// Package lots is the log of all lots and the page of one: what happened to it, what can be
// done now, and what it still needs before its bars may be sold.
package lots

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
