// Package making is make day: the run of a lot step by step on the bench, with scale and
// thermometer, what to do when something goes wrong, and the whole record of a lot.
package making

import (
	"embed"
	"net/http"

	"ashshelf/soap/caution"
	"ashshelf/web/page"
)

// Pages are the templates of the room.
//
//go:embed *.html
var Pages embed.FS

// Room shows make day.
type Room struct {
	*page.Kit
	Lots Log // the room of the lots
}

// Log is the room of the lots: it shows a lot, and reads the forms that are on its page.
type Log interface {
	ShowLot(w http.ResponseWriter, r *http.Request, status int, posted string, f *page.Form, notice *caution.Caution) error
	LotAct(r *http.Request, oid, name string, f *page.Form) (do func() error, ok bool)
}
