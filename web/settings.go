package web

import (
	"context"
	"errors"
	"net/http"
	"net/url"
	"strconv"
	"strings"

	"github.com/go-chi/chi/v5"

	"ashshelf/device"
	"ashshelf/shop"
	"ashshelf/soap/caution"
	"ashshelf/soap/cure"
	"ashshelf/soap/lye"
	"ashshelf/soap/plan"
	"ashshelf/soap/unit"
	"ashshelf/store"
)

// zones are offered while typing; any zone of the tz database is taken.
var zones = []string{
	"Europe/Dublin", "Europe/London", "Europe/Lisbon", "Europe/Paris", "Europe/Berlin", "Europe/Warsaw", "Europe/Athens", "Europe/Helsinki",
	"America/St_Johns", "America/Halifax", "America/New_York", "America/Chicago", "America/Denver", "America/Los_Angeles", "America/Sao_Paulo",
	"Africa/Johannesburg", "Asia/Kolkata", "Asia/Tokyo", "Australia/Perth", "Australia/Sydney", "Pacific/Auckland", "UTC",
}

// weekdays by the short names that days off are kept under.
var weekdays = []Option{{"mon", "Monday"}, {"tue", "Tuesday"}, {"wed", "Wednesday"}, {"thu", "Thursday"}, {"fri", "Friday"}, {"sat", "Saturday"}, {"sun", "Sunday"}}

type shopForm struct {
	Form  *Form
	Units []Option
	Zones []string
	Rules []Option
}

func shopFormOf(f *Form) shopForm {
	return shopForm{f, []Option{{"metric", "grams, millimetres, °C"}, {"us", "ounces and pounds, inches, °F"}}, zones, options(plan.FillRules())}
}

func readShop(f *Form) store.Shop {
	v := store.Shop{Name: f.Get("name"), Zone: f.Get("zone"), Units: f.Get("units"), Currency: strings.ToUpper(f.Get("currency")), Emergency: f.Get("emergency"), ScaleStep: 1}
	if f.Get("scale_step") != "" {
		v.ScaleStep = f.Mass("scale_step")
	}
	v.FineStep, v.FineMax = ifTyped(f, "fine_step", f.Mass, 0), ifTyped(f, "fine_max", f.Mass, 0)
	v.FillRule = f.Get("fill_rule")
	v.RoomC = ifTyped(f, "room_c", f.Temperature, lye.RoomC)
	var off []string
	for _, day := range weekdays {
		if f.Get("off."+day.Value) == "on" {
			off = append(off, day.Value)
		}
	}
	v.DaysOff = strings.Join(off, " ")
	v.ScaleAt, v.ProbeAt = f.Get("scale_at"), f.Get("probe_at")
	v.PotLoss, v.RiskyLoad = ifTyped(f, "pot_loss", f.Number, 0), ifTyped(f, "risky_load", f.Number, 0)
	return v
}

// shopValues writes settings as they are typed.
func shopValues(v store.Shop) map[string]string {
	out := map[string]string{
		"name": v.Name, "zone": v.Zone, "units": v.Units, "currency": v.Currency, "emergency": v.Emergency, "scale_at": v.ScaleAt, "probe_at": v.ProbeAt, "scale_step": unit.Trim(v.ScaleStep, 3) + " g",
		"fill_rule": v.FillRule, "pot_loss": unit.Trim(v.PotLoss, 2), "risky_load": unit.Trim(v.RiskyLoad, 0),
	}
	for _, day := range strings.Fields(v.DaysOff) {
		out["off."+day] = "on"
	}
	out["room_c"] = unit.FormatTemperature(v.RoomC, unit.System(v.Units))
	if v.FineStep > 0 {
		out["fine_step"], out["fine_max"] = unit.Trim(v.FineStep, 3)+" g", unit.Trim(v.FineMax, 0)+" g"
	}
	return out
}

// welcome is the first-run page of an empty shop.
func (s *Server) welcome(w http.ResponseWriter, r *http.Request) {
	if _, err := s.shop.Settings(r.Context()); err == nil {
		seeOther(w, r, "/")
		return
	}
	f := &Form{Values: url.Values{"units": {"metric"}, "scale_step": {"1 g"}, "fill_rule": {string(plan.Computed)}, "pot_loss": {"1"}, "risky_load": {"60"}}}
	s.show(w, r, http.StatusOK, "welcome", "Open the shop", "", nil, shopFormOf(f))
}

func (s *Server) found(w http.ResponseWriter, r *http.Request) {
	f, ok := s.form(w, r)
	if !ok {
		return
	}
	v := readShop(f)
	err := f.Problems.Err()
	if err == nil {
		token, label := deviceOf(w, r)
		a := shop.Act{Device: token, DeviceLabel: label, Key: r.PostFormValue("key"), Fingerprint: fingerprint(r.URL.Path, r.PostForm), Unread: unread(r)}
		var first int64
		if first, err = s.shop.Found(r.Context(), a, v, strings.Split(f.Values.Get("people"), "\n")); err == nil {
			if first != 0 {
				setCookie(w, whoCookie, strconv.FormatInt(first, 10))
			}
			seeOther(w, r, "/")
			return
		}
		if status, notice, ok := s.refused(w, r, err, f); ok {
			s.show(w, r, status, "welcome", "Open the shop", "", notice, shopFormOf(f))
		}
		return
	}
	s.show(w, r, http.StatusUnprocessableEntity, "welcome", "Open the shop", "", nil, shopFormOf(f))
}

// who asks who is working.
func (s *Server) who(w http.ResponseWriter, r *http.Request) {
	s.show(w, r, http.StatusOK, "who", "Who is at the bench?", "", nil, localPath(r.URL.Query().Get("next")))
}

func (s *Server) chooseWho(w http.ResponseWriter, r *http.Request) {
	f, ok := s.form(w, r)
	if !ok {
		return
	}
	for _, p := range sessionOf(r).Working() {
		if strconv.FormatInt(p.ID, 10) == f.Get("person") {
			setCookie(w, whoCookie, f.Get("person"))
			seeOther(w, r, localPath(f.Get("next")))
			return
		}
	}
	seeOther(w, r, "/who")
}

// confirmClock takes a person's word that the clock is right.
func (s *Server) confirmClock(w http.ResponseWriter, r *http.Request) {
	f, ok := s.form(w, r)
	if !ok {
		return
	}
	if err := s.shop.ConfirmClock(r.Context(), act(r)); err != nil {
		s.fail(w, r, err)
		return
	}
	seeOther(w, r, localPath(f.Get("next")))
}

// localPath lets a page lead back only within the shop.
func localPath(next string) string {
	if !strings.HasPrefix(next, "/") || strings.HasPrefix(next, "//") || strings.ContainsAny(next, "\\\r\n") {
		return "/"
	}
	return next
}

func (s *Server) settings(w http.ResponseWriter, r *http.Request) {
	s.showSettings(w, r, http.StatusOK, s.withShop(r, &Form{System: sessionOf(r).System, Values: url.Values{}}), nil)
}

func (s *Server) showSettings(w http.ResponseWriter, r *http.Request, status int, f *Form, notice *caution.Caution) {
	s.show(w, r, status, "settings", "Settings", "Settings", notice, struct {
		shopForm
		Risky string
	}{shopFormOf(f), s.shop.Risky()})
}

func (s *Server) saveSettings(w http.ResponseWriter, r *http.Request) {
	f, ok := s.form(w, r)
	if !ok {
		return
	}
	v := readShop(f)
	err := f.Problems.Err()
	if err == nil {
		err = s.shop.ChangeSettings(r.Context(), act(r), v)
	}
	if err == nil {
		err = s.FindDevices(r.Context())
	}
	s.afterSettings(w, r, f, err)
}

// FindDevices looks for the devices that the settings name. A shop that is not
// founded yet names none.
func (s *Server) FindDevices(ctx context.Context) error {
	if s.bench == nil {
		return nil
	}
	settings, err := s.shop.Settings(ctx)
	if errors.Is(err, shop.ErrNotFounded) {
		return nil
	}
	if err != nil {
		return err
	}
	s.bench.Find(device.Scale, settings.ScaleAt)
	s.bench.Find(device.Probe, settings.ProbeAt)
	return nil
}

func (s *Server) afterSettings(w http.ResponseWriter, r *http.Request, f *Form, err error) {
	if err == nil {
		seeOther(w, r, "/settings")
		return
	}
	if status, notice, ok := s.refused(w, r, err, f); ok {
		s.showSettings(w, r, status, f, notice)
	}
}

// withShop fills the shop's settings into a form.
func (s *Server) withShop(r *http.Request, f *Form) *Form {
	for name, value := range shopValues(sessionOf(r).Shop) {
		f.Set(name, value)
	}
	return f
}

func (s *Server) addPerson(w http.ResponseWriter, r *http.Request) {
	f, ok := s.form(w, r)
	if ok {
		err := s.shop.AddPerson(r.Context(), act(r), f.Get("person"))
		s.afterSettings(w, r, s.withShop(r, f), err)
	}
}

func (s *Server) setPerson(w http.ResponseWriter, r *http.Request) {
	f, ok := s.form(w, r)
	if !ok {
		return
	}
	id, err := strconv.ParseInt(chi.URLParam(r, "id"), 10, 64)
	if err != nil {
		s.notFound(w, r)
		return
	}
	err = s.shop.SetActive(r.Context(), act(r), id, f.Get("active") == "on")
	s.afterSettings(w, r, s.withShop(r, f), err)
}

// look shows the tokens that every screen is made of.
func (s *Server) look(w http.ResponseWriter, r *http.Request) {
	f := &Form{System: sessionOf(r).System, Values: url.Values{"good": {"350 g"}, "bad": {"1,250 g"}, "stage": {"trace"}}}
	f.Problems.Add("bad", "“1,250 g” could mean 1.250 or 1250; type a point for decimals and no thousands mark")
	s.show(w, r, http.StatusOK, "look", "Look", "", nil, lookPage{Form: f, Colours: lookColours, States: []State{stateOf(cure.Late), stateOf(cure.Open), stateOf(cure.Waiting), {"st-good", "state-good", "met"}},
		Cautions: []caution.Caution{
			{Level: caution.Block, Reason: "A bar with 1 % superfat is lye-heavy: it can burn the skin.", Remedy: "Keep a bar at 2 % or more; 5 % is usual."},
			{Level: caution.Warn, Reason: "The stock is at 15 °C; a 50 % solution forms crystals from about 12 °C.", Remedy: "Warm it above 17 °C and stir it clear."},
			{Level: caution.Advice, Reason: "Butters are 22 % of the blend.", Remedy: "10–15 % is usual."},
		}})
}

type lookPage struct {
	Form     *Form
	Colours  []lookColour
	States   []State
	Cautions []caution.Caution
}

// lookColour is a colour token, what it is for, and its contrast with the
// slab, light and dark (tested against the stylesheet).
type lookColour struct{ Name, Class, Use string }

var lookColours = []lookColour{
	{"chalk", "bg-chalk", "the page"}, {"slab", "bg-slab", "what lies on it: forms, tables"}, {"charcoal", "bg-charcoal", "text and lines of drawings"},
	{"smoke", "bg-smoke", "second text"}, {"seam", "bg-seam", "rules and borders"}, {"ash", "bg-ash", "wood, units, hover"}, {"grain", "bg-grain", "edges of wood, solid fats"},
	{"lamp", "bg-lamp", "the one signal: act here, the mark, now"}, {"glow", "bg-glow", "batter; behind a warning"}, {"dusk", "bg-dusk", "wet: lye, liquids, damp bars"}, {"haze", "bg-haze", "behind advice"},
	{"moss", "bg-moss", "met, ready"}, {"fern", "bg-fern", "behind what is met"}, {"madder", "bg-madder", "stop, late, wrong"}, {"blush", "bg-blush", "behind a stop"},
}

// foundingRoutes are the addresses of a shop that is not founded yet.
func (s *Server) foundingRoutes(r chi.Router) {
	r.Get("/welcome", s.welcome)
	r.Post("/welcome", s.found)
}

// openRoutes are open before somebody is at the bench.
func (s *Server) openRoutes(r chi.Router) {
	r.Get("/who", s.who)
	r.Post("/who", s.chooseWho)
	r.Get("/look", s.look)
}

// setupRoutes are the addresses of the settings.
func (s *Server) setupRoutes(r chi.Router) {
	r.Post("/clock", s.confirmClock)
	r.Get("/settings", s.settings)
	r.Post("/settings", s.saveSettings)
	r.Post("/settings/people", s.addPerson)
	r.Post("/settings/people/{id}", s.setPerson)
}
