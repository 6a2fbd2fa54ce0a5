package guide

import (
	"fmt"
	"net/http"
	"net/url"
	"strings"

	"ashshelf/shop/search"
	"ashshelf/soap/lot"
	"ashshelf/soap/role"
	"ashshelf/web/page"
)

// group is what was found of one kind.
type group struct {
	Title string
	Links []found
}

// found is a record with its address, which is empty for who may not see more of it.
type found struct{ Href, Name, Detail string }

// titles of what can be found.
var titles = map[search.Kind]string{
	search.Lot: "Lots", search.Recipe: "Recipes", search.Material: "Materials", search.Mold: "Molds",
	search.Tool: "Pots, jugs and cutters", search.Scent: "Scents", search.Stock: "Lye and fats made up",
	search.Jar: "Infusions", search.Delivery: "Deliveries", search.Opening: "There before the books",
	search.Product: "Products", search.Recall: "Recalls and drills", search.Market: "Markets", search.Order: "Orders",
	search.Person: "People",
}

// longest is how many letters of a question are looked at.
const longest = 200

func (s *Room) find(w http.ResponseWriter, r *http.Request) error {
	v := page.SessionOf(r)
	query := strings.ToValidUTF8(strings.TrimSpace(r.URL.Query().Get("q")), "")
	p := findPage{Form: &page.Form{Values: url.Values{"q": {query}}, System: v.System}, Asked: query != ""}
	if len(query) > longest {
		p.Form.Problems.Add("q", "a few words are enough: at most %d letters", longest)
		return s.Show(w, r, http.StatusUnprocessableEntity, "find", "Find", "Find", nil, p)
	}
	records, err := search.Find(r.Context(), s.Shop, query)
	if err != nil {
		return err
	}
	if _, err := lot.ParseCode(query); err == nil && len(records) == 1 && records[0].Kind == search.Lot && r.Header.Get("HX-Request") == "" {
		return page.SeeOther(w, r, hrefOf(records[0], v)) // its code was typed, or scanned
	}
	for _, one := range records {
		if n := len(p.Groups); n == 0 || p.Groups[n-1].Title != titles[one.Kind] {
			p.Groups = append(p.Groups, group{Title: titles[one.Kind]})
		}
		last := &p.Groups[len(p.Groups)-1]
		last.Links = append(last.Links, found{hrefOf(one, v), one.Name, one.Detail})
	}
	p.Told = tells(query)
	return s.Show(w, r, http.StatusOK, "find", "Find", "Find", nil, p)
}

// hrefOf is where a record is shown.
func hrefOf(f search.Found, v *page.Session) string {
	switch f.Kind {
	case search.Lot:
		return "/lots/" + f.OID
	case search.Recipe:
		return "/recipes/" + f.OID
	case search.Material:
		return "/recipes?" + url.Values{"q": {f.Name}}.Encode()
	case search.Mold:
		return "/molds/" + f.OID
	case search.Tool:
		return "/equipment/" + f.OID
	case search.Scent:
		return "/scents/" + f.OID
	case search.Stock:
		return "/lye/" + f.OID
	case search.Delivery:
		return "/stores/deliveries/" + f.OID
	case search.Opening:
		return "/stores/opening#o-" + f.OID
	case search.Product:
		return "/products/" + f.OID + "/bars"
	case search.Recall:
		return "/recalls/" + f.OID
	case search.Market:
		return "/markets/" + f.OID + "/pack"
	case search.Order:
		return "/orders/" + f.OID + "/box"
	case search.Jar:
		return "/infusions#jar-" + f.OID
	}
	if v.May(string(role.Owner)) {
		return fmt.Sprintf("/people/%d", f.ID)
	}
	return ""
}
