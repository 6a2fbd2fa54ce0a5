package stores

import (
	"fmt"
	"io"
	"net/http"
	"net/url"
	"regexp"
	"slices"
	"strconv"
	"strings"

	"ashshelf/exchange"
	"ashshelf/shop/supply"
	"ashshelf/soap/caution"
	"ashshelf/soap/cost"
	"ashshelf/soap/fat"
	"ashshelf/soap/inventory"
	"ashshelf/soap/lot"
	"ashshelf/soap/unit"
	"ashshelf/web/draw"
	"ashshelf/web/page"
)

// storeroomPage is the storeroom as one looks along it.
type storeroomPage struct {
	supply.Storeroom
	Shelves []shelf
	Scraps  []*lot.Lot // of which scraps or pieces are left
	Soon    []supply.Line
	UseUp   []supply.Line
	Form    *page.Form // why the books were short
	At      int64      // of which move
	Blank   *page.Form // of the others
	Empty   bool       // nothing is in the books yet
}

type shelf struct {
	Name    string
	Vessels []vessel
	Others  []supply.Line // that stand nowhere
}

type vessel struct {
	supply.Line
	Picture draw.Picture
	Href    string
	State   string // what is to be said of it
	Late    bool
}

// soonDays is how far ahead the storeroom looks for what must be ordered.
const soonDays = 21

// HrefOf is the page of a material.
func HrefOf(l supply.Line) string {
	return "/stores/of?key=" + strings.ReplaceAll(url.QueryEscape(string(l.Key)), "+", "%20")
}

func (s *Room) storeroom(w http.ResponseWriter, r *http.Request) error {
	return s.showStoreroom(w, r, http.StatusOK, nil, nil)
}

func (s *Room) showStoreroom(w http.ResponseWriter, r *http.Request, status int, f *page.Form, notice *caution.Caution) error {
	room, err := s.Shop.Storeroom(r.Context())
	if err != nil {
		return err
	}
	p := storeroomPage{Storeroom: room, Soon: room.Soon(soonDays), UseUp: room.UseUp(), Form: f, Empty: true}
	p.Blank = &page.Form{Values: url.Values{}, System: page.SessionOf(r).System}
	if f == nil {
		p.Form = &page.Form{Values: url.Values{}, System: page.SessionOf(r).System}
	} else {
		p.At = page.Entry(f, "move")
	}
	if p.Scraps, err = s.Shop.Trimmings(r.Context()); err != nil {
		return err
	}
	sys := page.SessionOf(r).System
	for _, kind := range inventory.Kinds() {
		one := shelf{Name: kind.Shelf()}
		largest := 0.0
		for _, l := range room.Lines {
			if l.Kind == kind {
				largest = max(largest, holds(l))
			}
		}
		for _, l := range room.Lines {
			switch {
			case l.Kind != kind || l.Always || l.Retire && l.Have+l.Kept == 0:
			case !l.Known() && l.Reserved == 0 && l.OnTheWay == 0:
				one.Others = append(one.Others, l)
			default:
				one.Vessels = append(one.Vessels, vesselOf(l, room.Today, largest, sys))
				p.Empty = p.Empty && !l.Known()
			}
		}
		if len(one.Vessels)+len(one.Others) > 0 {
			p.Shelves = append(p.Shelves, one)
		}
	}
	return s.Show(w, r, status, "storeroom", "Stores", "Stores", notice, p)
}

// holds is how much a material's vessel holds when it is full: what came in what stands there.
func holds(l supply.Line) (sum float64) {
	for _, d := range l.Deliveries {
		if d.Booked {
			sum += float64(max(d.Quantity, d.Left))
		}
	}
	return sum
}

// formOf is what a material stands in.
func formOf(m inventory.Material) draw.VesselForm {
	if key, is := m.Key.Fat(); is {
		if known, err := fat.Find(key); err == nil && known.Solid {
			return draw.Block
		}
	}
	return forms[m.Kind]
}

var forms = map[inventory.Kind]draw.VesselForm{
	inventory.Fat: draw.Canister, inventory.Alkali: draw.Tub, inventory.Liquid: draw.Flagon, inventory.Additive: draw.Jar,
	inventory.Colour: draw.Jar, inventory.Scent: draw.Bottle, inventory.Packaging: draw.Carton, inventory.Tool: draw.Carton,
}

func vesselOf(l supply.Line, today string, largest float64, sys unit.System) vessel {
	form := formOf(l.Material.Material)
	v := vessel{Line: l, Href: HrefOf(l)}
	mark := ""
	switch l.NearState {
	case inventory.Soon:
		mark = draw.NearDate
	case inventory.Past:
		mark = draw.PastDate
	}
	words := l.Name + ": " + page.AmountWords(l.Have, l.Unit, sys)
	switch {
	case l.Balance.Short() > 0:
		v.State, v.Late = page.AmountWords(l.Balance.Short(), l.Unit, sys)+" short", true
	case l.NearState == inventory.Past:
		v.State, v.Late = "past its date", true
	case l.Buy.Count > 0 && l.Reorder.By == today:
		v.State = "order it now"
	case l.NearState == inventory.Soon:
		v.State = "use by " + page.LocalDay(l.Near)
	case l.Kept > 0:
		v.State = page.AmountWords(l.Kept, l.Unit, sys) + " kept back"
	case l.OnTheWay > 0:
		v.State = page.AmountWords(l.OnTheWay, l.Unit, sys) + " on the way"
	}
	if v.State != "" {
		words += ", " + v.State
	}
	v.Picture = draw.OfVessel(draw.VesselInput{
		Form: form, Holds: holds(l), Largest: largest, Have: float64(l.Have), Kept: float64(l.Kept), Reserved: float64(l.Reserved),
		Mark: mark, Words: words,
	})
	return v
}

// table is the store as a table.
func (s *Room) table(w http.ResponseWriter, r *http.Request) error {
	room, err := s.Shop.Storeroom(r.Context())
	if err != nil {
		return err
	}
	return s.Show(w, r, http.StatusOK, "stores-table", "The store as a table", "Stores", nil, room)
}

// shoppingPage is what must be ordered.
type shoppingPage struct {
	Groups []supply.Group
	Today  string
	Form   *page.Form
}

func (s *Room) shopping(w http.ResponseWriter, r *http.Request) error {
	return s.showShopping(w, r, http.StatusOK, nil, nil)
}

func (s *Room) showShopping(w http.ResponseWriter, r *http.Request, status int, f *page.Form, notice *caution.Caution) error {
	room, err := s.Shop.Storeroom(r.Context())
	if err != nil {
		return err
	}
	if f == nil {
		f = &page.Form{Values: url.Values{}, System: page.SessionOf(r).System}
	}
	return s.Show(w, r, status, "shopping", "What to buy", "Stores", notice, shoppingPage{room.ShoppingList(), room.Today, f})
}

// shoppingCSV is the shopping list for a spreadsheet.
func (s *Room) shoppingCSV(w http.ResponseWriter, r *http.Request) error {
	room, err := s.Shop.Storeroom(r.Context())
	if err != nil {
		return err
	}
	currency := page.SessionOf(r).Currency
	return s.Download(w, r, "shopping-list-"+room.Today+".csv", "text/csv; charset=utf-8", func(to io.Writer) error {
		rows := [][]string{{"supplier", "material", "article", "packs", "pack", "unit", "price_of_pack", "currency"}}
		for _, g := range room.ShoppingList() {
			for _, l := range g.Lines {
				price := ""
				if l.Buy.Offer.Price >= 0 {
					price = cost.Format(l.Buy.Offer.Price, currency)
				}
				pack, in := strconv.FormatInt(l.Buy.Offer.Amount, 10), string(l.Unit)
				if l.Unit == inventory.Milligrams {
					pack, in = unit.Trim(inventory.Grams(l.Buy.Offer.Amount), 3), "g"
				}
				rows = append(rows, []string{
					g.Supplier, l.Name, l.Buy.Offer.Article, strconv.Itoa(l.Buy.Count), pack, in, price, currency,
				})
			}
		}
		return exchange.WriteTable(to, "shopping list", rows)
	})
}

// settle says why the books were short.
func (s *Room) settle(w http.ResponseWriter, r *http.Request) error {
	f, err := s.Form(r)
	if err != nil {
		return err
	}
	move := page.Entry(f, "move")
	return s.Record(w, r, f, func() (string, error) {
		return "/stores", s.Shop.Settle(r.Context(), page.Act(r), move, f.Get("why"))
	}, func(status int, notice *caution.Caution) error { return s.showStoreroom(w, r, status, f, notice) })
}

// times is "3 x 5 kg": packs of an amount.
var times = regexp.MustCompile(`^\s*(\d{1,5})\s*[x×*]\s*(.+)$`)

// amountIn reads an amount of a material: pieces, a weight, a volume where its density is known, or packs of one.
func amountIn(f *page.Form, name string, m inventory.Material) int64 {
	text := f.Get(name)
	packs := int64(1)
	if found := times.FindStringSubmatch(text); found != nil {
		n, err := strconv.Atoi(found[1])
		if err != nil || n == 0 {
			f.Problems.Add(name, "type packs like 3 x 5 kg")
			return 0
		}
		packs, text = int64(n), found[2]
	}
	if m.Unit == inventory.Pieces {
		n, err := unit.Count(text)
		if err != nil {
			f.Problems.Add(name, "%s", err.Error())
		}
		return packs * int64(n)
	}
	grams, err := unit.Mass(text, f.System.MassUnit())
	if err == nil {
		return packs * inventory.MG(grams)
	}
	bare := "ml"
	if f.System == unit.US {
		bare = unit.USVolume
	}
	ml, noVolume := unit.Volume(text, bare)
	switch {
	case noVolume != nil:
		f.Problems.Add(name, "%s", err.Error())
	case m.Dense == 0:
		f.Problems.Add(name, "%s is weighed: type a weight, or note its density on its page first", m.Name)
	default:
		return packs * inventory.MG(ml*m.Dense)
	}
	return 0
}

// moneyIn reads an amount of money; nil when nothing is typed.
func moneyIn(r *http.Request, f *page.Form, name string) *int64 {
	if f.Get(name) == "" {
		return nil
	}
	v, err := cost.ParseMoney(f.Get(name), page.SessionOf(r).Currency)
	if err != nil {
		f.Problems.Add(name, "%s", err.Error())
		return nil
	}
	return &v
}

// moneyOr is what was typed, or nothing.
func moneyOr(v *int64) int64 {
	if v == nil {
		return 0
	}
	return *v
}

// materialNames are what a name can be picked from.
func materialNames(room supply.Storeroom) (out []string) {
	for _, l := range room.Lines {
		if !l.Always && !l.Retire {
			out = append(out, l.Name)
		}
	}
	slices.Sort(out)
	return slices.Compact(out)
}

// byName finds a material of the catalogue by its name.
func byName(room supply.Storeroom, name string) (supply.Line, error) {
	for _, l := range room.Lines {
		if inventory.SameName(l.Name, name) {
			return l, nil
		}
	}
	return supply.Line{}, fmt.Errorf("“%s” is not in the catalogue yet: choose what it is", name)
}
