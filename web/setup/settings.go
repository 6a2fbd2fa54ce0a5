package setup

import (
	"net/http"
	"net/url"
	"strconv"
	"strings"

	"ashshelf/shop/document"
	"ashshelf/shop/journal"
	"ashshelf/shop/starter"
	"ashshelf/soap/caution"
	"ashshelf/soap/cost"
	"ashshelf/soap/cure"
	"ashshelf/soap/lot"
	"ashshelf/soap/lye"
	"ashshelf/soap/plan"
	"ashshelf/soap/unit"
	"ashshelf/store"
	"ashshelf/web/draw"
	"ashshelf/web/page"
)

// zones are offered while typing; any zone of the tz database is taken.
var zones = []string{
	"Europe/Dublin", "Europe/London", "Europe/Lisbon", "Europe/Paris", "Europe/Berlin", "Europe/Warsaw", "Europe/Athens",
	"Europe/Helsinki",
	"America/St_Johns", "America/Halifax", "America/New_York", "America/Chicago", "America/Denver", "America/Los_Angeles",
	"America/Sao_Paulo",
	"Africa/Johannesburg", "Asia/Kolkata", "Asia/Tokyo", "Australia/Perth", "Australia/Sydney", "Pacific/Auckland", "UTC",
}

type shopForm struct {
	Form  *page.Form
	Units []page.Option
	Zones []string
	Rules []page.Option
}

func shopFormOf(f *page.Form) shopForm {
	return shopForm{
		f,
		[]page.Option{{Value: "metric", Label: "grams, millimetres, °C"}, {Value: "us", Label: "ounces and pounds, inches, °F"}},
		zones,
		page.Options(plan.FillRules()),
	}
}

func readShop(f *page.Form) store.Shop {
	if u := unit.System(f.Get("units")); u.Valid() {
		f.System = u // who chooses °F and types 70 means 70 °F
	}
	v := store.Shop{
		Name:      f.Get("name"),
		Zone:      f.Get("zone"),
		Units:     f.Get("units"),
		Currency:  strings.ToUpper(f.Get("currency")),
		Emergency: f.Get("emergency"),
		ScaleStep: 1,
	}
	if f.Get("scale_step") != "" {
		v.ScaleStep = f.Mass("scale_step")
	}
	v.FineStep, v.FineMax = page.IfTyped(f, "fine_step", f.Mass, 0), page.IfTyped(f, "fine_max", f.Mass, 0)
	v.FillRule = f.Get("fill_rule")
	v.RoomC = page.IfTyped(f, "room_c", f.Temperature, lye.RoomC)
	var off []string
	for _, day := range page.Weekdays {
		if f.Get("off."+day.Value) == "on" {
			off = append(off, day.Value)
		}
	}
	v.DaysOff = strings.Join(off, " ")
	v.ScaleAt, v.ProbeAt = f.Get("scale_at"), f.Get("probe_at")
	v.FreightBy, v.TaxBack = f.Get("freight_by"), f.Get("tax_back") == "on"
	if f.Get("hour_rate") != "" {
		rate, err := cost.ParseMoney(f.Get("hour_rate"), v.Currency)
		if err != nil {
			f.Problems.Add("hour_rate", "%s", err.Error())
		}
		v.HourRate = rate
	}
	v.PotLoss, v.RiskyLoad = page.IfTyped(f, "pot_loss", f.Number, 0), page.IfTyped(f, "risky_load", f.Number, 0)
	return v
}

// usualPotLoss is the percentage of the batter that stays in the pot where nobody said it.
const usualPotLoss = 1

// shopValues writes settings as they are typed.
func shopValues(v store.Shop) map[string]string {
	out := map[string]string{
		"name": v.Name, "zone": v.Zone, "units": v.Units, "currency": v.Currency, "emergency": v.Emergency, "scale_at": v.ScaleAt,
		"probe_at": v.ProbeAt, "scale_step": unit.FieldMass(v.ScaleStep, unit.System(v.Units)),
		"fill_rule": v.FillRule, "pot_loss": unit.Trim(v.PotLoss, 2), "risky_load": unit.Trim(v.RiskyLoad, 0),
	}
	for _, day := range strings.Fields(v.DaysOff) {
		out["off."+day] = "on"
	}
	out["freight_by"] = v.FreightBy
	if v.TaxBack {
		out["tax_back"] = "on"
	}
	if v.HourRate > 0 {
		out["hour_rate"] = cost.Format(v.HourRate, v.Currency)
	}
	out["room_c"] = unit.FieldTemperature(v.RoomC, unit.System(v.Units))
	if v.FineStep > 0 {
		out["fine_step"], out["fine_max"] = unit.FieldMass(v.FineStep, unit.System(v.Units)), unit.FieldMass(v.FineMax, unit.System(v.Units))
	}
	return out
}

// welcomePage asks three things: what the shop is called, who works in it, and how she weighs. The rest
// is guessed, shown, and changed where it matters.
type welcomePage struct {
	shopForm
	Looks bool // the demo shop can be looked at from here
}

// How a new shop begins.
const (
	beginStarter = "starter"
	beginEmpty   = "empty"
)

func (s *Room) showWelcome(w http.ResponseWriter, r *http.Request, status int, f *page.Form, notice *caution.Caution) error {
	return s.Show(w, r, status, "welcome", "Open the shop", "", notice, welcomePage{shopFormOf(f), s.Demo != nil})
}

// welcome is the first-run page of an empty shop.
func (s *Room) welcome(w http.ResponseWriter, r *http.Request) error {
	if _, err := s.Shop.Settings(r.Context()); err == nil {
		return page.SeeOther(w, r, "/")
	}
	place := placeOf(r.Header.Get("Accept-Language"))
	f := &page.Form{Values: url.Values{
		"units": {string(place.Units)}, "currency": {place.Currency}, "zone": {hereZone()}, "begin": {beginStarter},
	}}
	return s.showWelcome(w, r, http.StatusOK, f, nil)
}

func (s *Room) found(w http.ResponseWriter, r *http.Request) error {
	f, err := s.Form(r)
	if err != nil {
		return err
	}
	v := readShop(f)
	v.PotLoss = page.IfTyped(f, "pot_loss", f.Number, usualPotLoss)
	begin := f.Get("begin")
	if begin != beginStarter && begin != beginEmpty {
		f.Problems.Add("begin", "choose what to begin with")
	}
	return s.Record(w, r, f, func() (string, error) {
		token, label := page.DeviceOf(w, r)
		act := journal.Act{
			Device:      token,
			DeviceLabel: label,
			Key:         r.PostFormValue("key"),
			Fingerprint: page.Fingerprint(r.URL.Path, r.PostForm),
			Unread:      page.Unread(r),
		}
		first, err := s.Shop.Found(r.Context(), act, v, strings.FieldsFunc(f.Values.Get("people"), func(c rune) bool {
			return c == '\n' || c == ',' || c == ';'
		}))
		if err == nil && first != 0 && begin == beginStarter {
			act.Person, act.Unread = first, nil
			err = starter.Bench(r.Context(), s.Shop, act)
		}
		if first != 0 {
			s.SetWho(w, r, strconv.FormatInt(first, 10))
		}
		return "/", err
	}, func(status int, notice *caution.Caution) error {
		return s.showWelcome(w, r, status, f, notice)
	})
}

// lookAtDemo opens the demo shop in a copy of its own beside the shop.
func (s *Room) lookAtDemo(w http.ResponseWriter, r *http.Request) error {
	if s.Demo == nil {
		return store.ErrNotFound
	}
	if _, err := s.Shop.Settings(r.Context()); err == nil { // it is for who has no shop yet
		return page.SeeOther(w, r, "/")
	}
	token, err := s.Demo(r.Context())
	if err != nil {
		return err
	}
	page.SetBeside(w, r, token)
	return page.SeeOther(w, r, "/")
}

// confirmClock takes a person's word that the clock is right.
func (s *Room) confirmClock(w http.ResponseWriter, r *http.Request) error {
	f, err := s.Form(r)
	if err != nil {
		return err
	}
	if err := s.Shop.ConfirmClock(r.Context(), page.Act(r)); err != nil {
		return err
	}
	return page.SeeOther(w, r, page.LocalPath(f.Get("next")))
}

// closeGap takes a person's word that she looked for what was recorded after the copy.
func (s *Room) closeGap(w http.ResponseWriter, r *http.Request) error {
	f, err := s.Form(r)
	if err != nil {
		return err
	}
	if err := s.Shop.CloseGap(r.Context(), page.Act(r)); err != nil {
		return err
	}
	return page.SeeOther(w, r, page.LocalPath(f.Get("next")))
}

func (s *Room) settings(w http.ResponseWriter, r *http.Request) error {
	return s.showSettings(w, r, http.StatusOK, s.withShop(r, &page.Form{System: page.SessionOf(r).System, Values: url.Values{}}), nil)
}

func (s *Room) showSettings(w http.ResponseWriter, r *http.Request, status int, f *page.Form, notice *caution.Caution) error {
	return s.Show(w, r, status, "settings", "Settings", "Settings", notice, struct {
		shopForm
		Risky string
		House bool
	}{shopFormOf(f), s.Shop.Risky(), s.House != nil})
}

func (s *Room) saveSettings(w http.ResponseWriter, r *http.Request) error {
	f, err := s.Form(r)
	if err != nil {
		return err
	}
	v := readShop(f)
	return s.set(w, r, f, func() error {
		if err := s.Shop.ChangeSettings(r.Context(), page.Act(r), v); err != nil {
			return err
		}
		return s.FindDevices(r.Context())
	})
}

// set does what a form of the settings asks for, and shows them again.
func (s *Room) set(w http.ResponseWriter, r *http.Request, f *page.Form, do func() error) error {
	return s.Record(w, r, f, func() (string, error) {
		return "/settings", do()
	}, func(status int, notice *caution.Caution) error {
		return s.showSettings(w, r, status, f, notice)
	})
}

// withShop fills the shop's settings into a form.
func (s *Room) withShop(r *http.Request, f *page.Form) *page.Form {
	for name, value := range shopValues(page.SessionOf(r).Shop) {
		f.Set(name, value)
	}
	return f
}

// look shows the tokens that every screen is made of.
func (s *Room) look(w http.ResponseWriter, r *http.Request) error {
	f := &page.Form{System: page.SessionOf(r).System, Values: url.Values{"good": {"350 g"}, "bad": {"1,250 g"}, "stage": {"trace"}}}
	f.Problems.Add("bad", "“1,250 g” could mean 1.250 or 1250; type a point for decimals and no thousands mark")
	return s.Show(
		w,
		r,
		http.StatusOK,
		"look",
		"Look",
		"",
		nil,
		lookPage{
			Form:    f,
			Colours: lookColours,
			Traces:  traces(),
			Tools: []draw.Picture{
				draw.OfTool(document.ToolBody{Kind: document.Pot, ML: 8000}, 8000),
				draw.OfTool(document.ToolBody{Kind: document.Jug, ML: 3000}, 8000),
				draw.OfTool(document.ToolBody{Kind: document.Cutter, Wires: 5, Spacing: 25}, 8000),
			},
			States: []page.State{
				page.StateOf(cure.Late),
				page.StateOf(cure.Open),
				page.StateOf(cure.Waiting),
				{Icon: "st-good", Class: "state-good", Word: "met"},
			},
			Cautions: []caution.Caution{
				{
					Level:  caution.Block,
					Reason: "A bar with 1 % superfat is lye-heavy: it can burn the skin.",
					Remedy: "Keep a bar at 2 % or more; 5 % is usual.",
				},
				{
					Level:  caution.Warn,
					Reason: "The stock is at 15 °C; a 50 % solution forms crystals from about 12 °C.",
					Remedy: "Warm it above 17 °C and stir it clear.",
				},
				{Level: caution.Advice, Reason: "Butters are 22 % of the blend.", Remedy: "10–15 % is usual."},
			},
		},
	)
}

func traces() (out []draw.Picture) {
	for _, name := range lot.Traces() {
		out = append(out, draw.OfTrace(name))
	}
	return out
}

type lookPage struct {
	Form     *page.Form
	Colours  []lookColour
	States   []page.State
	Cautions []caution.Caution
	Traces   []draw.Picture
	Tools    []draw.Picture
}

// lookColour is a colour token, what it is for, and its contrast with the
// slab, light and dark (tested against the stylesheet).
type lookColour struct{ Name, Class, Use string }

var lookColours = []lookColour{
	{
		"chalk",
		"bg-chalk",
		"the page",
	}, {"slab", "bg-slab", "what lies on it: forms, tables"}, {"charcoal", "bg-charcoal", "text and lines of drawings"},
	{
		"smoke",
		"bg-smoke",
		"second text",
	}, {"seam", "bg-seam", "rules and borders"}, {"ash", "bg-ash", "wood, units, hover"},
	{"grain", "bg-grain", "edges of wood, solid fats"},
	{
		"lamp",
		"bg-lamp",
		"the one signal: act here, the mark, now",
	}, {"glow", "bg-glow", "batter; behind a warning"}, {"dusk", "bg-dusk", "wet: lye, liquids, damp bars"},
	{"haze", "bg-haze", "behind advice"},
	{
		"moss",
		"bg-moss",
		"met, ready",
	}, {"fern", "bg-fern", "behind what is met"}, {"madder", "bg-madder", "stop, late, wrong"}, {"blush", "bg-blush", "behind a stop"},
}

// FoundingRoutes are the addresses of a shop that is not founded yet.
func (s *Room) FoundingRoutes(r page.Routes) {
	r.Get("/welcome", s.welcome)
	r.Post("/welcome", s.found)
	r.Post("/welcome/demo", s.lookAtDemo)
}

// OpenRoutes are open before somebody is at the bench.
func (s *Room) OpenRoutes(r page.Routes) {
	r.Get("/look", s.look)
	r.Get("/trust", s.trust)
	r.Get(housePath, s.houseCertificate)
}

// SetupRoutes are the addresses of the settings.
func (s *Room) SetupRoutes(r page.Routes) {
	r.Post("/clock", s.confirmClock)
	r.Post("/restored", s.closeGap)
	r.Get("/settings", s.settings)
	r.Post("/settings", s.saveSettings)
}
