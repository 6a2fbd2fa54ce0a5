package page

import (
	"encoding/base64"
	"encoding/json"
	"net/http"
)

// Kept is what the next page says of an act that was just recorded, and how it is undone where that
// is honest: by another entry that says so.
type Kept struct {
	Said string `json:"said"`
	Undo *Undo  `json:"undo,omitempty"`
}

// Undo is the form that takes an act back.
type Undo struct {
	Path   string            `json:"path"`
	Fields map[string]string `json:"fields"`
}

// keptCookie carries it over the redirect. A page is kept whole for everybody who looks, so that what
// one person has just done travels beside it; script reads it once and throws it away.
const keptCookie, keptSeconds = "kept", 30

// SayKept has the next page say it.
func SayKept(w http.ResponseWriter, r *http.Request, k Kept) error {
	text, err := json.Marshal(k)
	if err != nil {
		return err
	}
	http.SetCookie(w, &http.Cookie{
		Name: keptCookie, Value: base64.RawURLEncoding.EncodeToString(text), Path: "/", SameSite: http.SameSiteStrictMode,
		MaxAge: keptSeconds, Secure: r.TLS != nil,
	})
	return nil
}
