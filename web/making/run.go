package making

import (
	"bytes"
	"context"
	"fmt"
	"net/http"
	"path"
	"strconv"
	"strings"
	"time"

	"github.com/go-chi/chi/v5"

	"ashshelf/device"
	"ashshelf/shop"
	"ashshelf/soap/additive"
	"ashshelf/soap/caution"
	"ashshelf/soap/inventory"
	"ashshelf/soap/lot"
	"ashshelf/soap/plan"
	"ashshelf/soap/run"
	"ashshelf/soap/unit"
	"ashshelf/store"
	"ashshelf/web/page"
)

// makeAct reads the form of an act of make day; the returned function carries
// it out. ok is false when the act is none of make day's.
func (s *Room) makeAct(r *http.Request, oid, name string, f *page.Form) (do func() error, ok bool) {
	ctx, a := r.Context(), page.Act(r)
	switch name {
	case "weigh", "back":
		w := s.readWeighed(r, f, name == "back")
		return func() error {
			err := s.Shop.Weigh(ctx, a, oid, w)
			if err == nil && w.How == lot.ByDevice {
				s.tare(ctx)
			}
			return err
		}, true
	case "tick":
		k := s.readTicked(r, f)
		return func() error { return s.Shop.Tick(ctx, a, oid, k) }, true
	case "temp":
		of := f.Get("of")
		c, how := s.temperature(r, f, of+"_c")
		if c == nil {
			f.Problems.Add(of+"_c", "type what the thermometer reads")
			return nil, true
		}
		return func() error { return s.Shop.ReadTemperature(ctx, a, oid, of, *c, how) }, true
	case "rescale":
		return func() error { return s.Shop.Rescale(ctx, a, oid, plan.Key(f.Get("item"))) }, true
	case "extra":
		added := shop.Added{Name: f.Get("extra"), Portion: f.Get("extra_portion")}
		added.Grams, added.Spoons = f.MassOrSpoons("extra_grams")
		return func() error { return s.Shop.AddExtra(ctx, a, oid, added) }, true
	case "takeover":
		return func() error { return s.Shop.TakeOver(ctx, a, oid) }, true
	case "pour":
		p := readPour(f)
		return func() error { return s.Shop.RecordPour(ctx, a, oid, p) }, true
	case "paper":
		p := s.readPaper(r, f)
		return func() error { return s.Shop.RecordPaper(ctx, a, oid, p) }, true
	case "photo":
		return func() error {
			file, _, err := r.FormFile("photo")
			if err != nil {
				return caution.Problems{{Path: "photo", Text: "choose a picture"}}
			}
			defer file.Close()
			return s.Shop.AddPhoto(ctx, a, oid, file, f.Get("caption"))
		}, true
	case "giveup":
		return func() error { return s.Shop.GiveUp(ctx, a, oid, f.Get("why")) }, true
	}
	return nil, false
}

// readWeighed reads a weight: what was typed, or the reading that the page
// showed, which must have stood still.
func (s *Room) readWeighed(r *http.Request, f *page.Form, back bool) shop.Weighed {
	w := shop.Weighed{
		Item:     plan.Key(f.Get("item")),
		Back:     back,
		How:      lot.Typed,
		Sure:     f.Get("sure") == "on",
		Corrects: page.Entry(f, "corrects"),
		Reason:   f.Get("reason"),
		From:     f.Get("from"),
		Then:     f.Get("then"),
		Empty:    f.Get("empty") == "on",
	}
	if reading := page.Entry(f, "reading"); f.Get("grams") == "" && reading > 0 {
		seen, ok := s.Reading(device.Scale, reading)
		switch {
		case ok && !wasLive(r, seen):
			f.Problems.Add(
				"grams",
				"that is what the scale showed some time ago, not what lies on it now; look at it and write it down again",
			)
		case !ok:
			f.Problems.Add(
				"grams",
				"that reading of the scale is no longer known; look at the scale and write it down again, or type it",
			)
		case seen.Over:
			f.Problems.Add("grams", "there is more on the scale than it can carry")
		case !seen.Stable:
			f.Problems.Add("grams", "the scale was still moving; wait until it stands still")
		case seen.Value == 0:
			f.Problems.Add("grams", "the scale shows nothing; pour first")
		}
		w.Grams, w.How, w.Reading = seen.Value, lot.ByDevice, reading
		if seen.Value < 0 {
			w.Grams, w.Back = -seen.Value, true
		}
	} else {
		w.Grams = f.Mass("grams")
	}
	if jar, ok := strings.CutPrefix(w.From, fromJar); ok {
		w.From, w.Infusion = "", jar
	}
	if w.From == "new" {
		w.From = ""
		w.New = &lot.Bought{
			Supplier: f.Get("supplier"),
			Code:     f.Get("code"),
			Received: f.Day("received"),
			Purity:   page.IfTyped(f, "purity", f.Number, 0),
			SAP:      page.IfTyped(f, "sap", f.Number, 0),
		}
	}
	return w
}

// onItsWay is how long a press may take to arrive, besides what the outbox says that
// it held it back.
const onItsWay = 3 * time.Second

// wasLive reports whether a reading was what the device showed when its button was
// pressed.
func wasLive(r *http.Request, seen device.Reading) bool {
	held := 0
	if text := r.Header.Get(page.HeldHeader); text != "" {
		ms, err := strconv.Atoi(text)
		if err != nil || ms < 0 {
			return false
		}
		held = ms
	}
	pressed := time.Now().Add(-time.Duration(held) * time.Millisecond)
	return seen.Fresh(pressed.Add(-onItsWay))
}

// tare zeroes the scale for the next pour into the same vessel.
func (s *Room) tare(ctx context.Context) {
	if w := s.Devices.Watch(device.Scale); w != nil {
		if err := w.Tare(ctx); err != nil {
			s.Log.Warn("tare", "err", err)
		}
	}
}

// temperature reads a temperature: what was typed, or else what the probe showed
// when its button was pressed; nil when neither is there.
func (s *Room) temperature(r *http.Request, f *page.Form, field string) (*float64, lot.How) {
	if f.Get(field) != "" {
		v := f.Temperature(field)
		return &v, lot.Typed
	}
	if number := page.Entry(f, "reading"); number > 0 && f.Get("probe") == field {
		seen, ok := s.Reading(device.Probe, number)
		switch {
		case ok && !wasLive(r, seen):
			f.Problems.Add(field, "that is what the probe showed some time ago; look at it and write it down again, or type it")
			return nil, lot.Typed
		case ok && seen.Over:
			f.Problems.Add(field, "the probe is where it cannot measure; put it into the pot, or type what another thermometer reads")
			return nil, lot.Typed
		case ok:
			return &seen.Value, lot.ByDevice
		}
		f.Problems.Add(field, "that reading of the probe is no longer known; read it again, or type it")
	}
	return nil, lot.Typed
}

func (s *Room) readTicked(r *http.Request, f *page.Form) shop.Ticked {
	k := shop.Ticked{
		Step:      f.Get("step"),
		Undo:      f.Get("undo") == "on",
		Note:      f.Get("note"),
		Trace:     f.Get("trace"),
		Minutes:   page.IfTyped(f, "minutes", f.Number, 0),
		Onto:      f.Get("onto"),
		Behaviour: additive.Behaviour(f.Get("behaviour")),
		Remember:  f.Get("remember") == "on",
	}
	k.CheckG, k.ReadsG = page.IfTyped(f, "check_g", f.Mass, 0), page.IfTyped(f, "reads_g", f.Mass, 0)
	if f.Get("grams") != "" {
		k.Grams, k.Spoons = f.MassOrSpoons("grams")
	}
	k.LiquidC, k.How = s.temperature(r, f, "liquid_c")
	k.LyeC, _ = s.temperature(r, f, "lye_c")
	k.FatsC, _ = s.temperature(r, f, "fats_c")
	return k
}

func readPour(f *page.Form) lot.Pour {
	temp := func(field string) *float64 {
		if f.Get(field) == "" {
			return nil
		}
		v := f.Temperature(field)
		return &v
	}
	off := map[string]float64{}
	for field := range f.Values {
		if oid, ok := strings.CutPrefix(field, "off."); ok && f.Get(field) != "" {
			off[oid] = f.SignedLength(field)
		}
	}
	return lot.Pour{
		Off:     off,
		LyeC:    temp("lye_c"),
		FatsC:   temp("fats_c"),
		RoomC:   temp("room_c"),
		Trace:   f.Get("trace"),
		LeftG:   page.IfTyped(f, "left", f.Mass, 0),
		Skipped: f.Get("skipped"),
		Note:    f.Get("note"),
	}
}

// paperPage fills a printed sheet in afterwards.
type paperPage struct {
	*lot.Lot
	Form   *page.Form
	Seen   int64
	Sheet  []paperSection
	Traces []page.Option
}

type paperSection struct {
	Title string
	Items []paperItem
}

type paperItem struct {
	Field, Label, Hint string
	From               string        // field of its delivery
	Deliveries         []page.Option // that it can be out of; none where the books know of none
}

func (s *Room) paper(w http.ResponseWriter, r *http.Request) error {
	return s.showPaper(w, r, http.StatusOK, "", nil, nil)
}

func (s *Room) showPaper(w http.ResponseWriter, r *http.Request, status int, posted string, f *page.Form, notice *caution.Caution) error {
	oid := chi.URLParam(r, "oid")
	l, err := s.Shop.Lot(r.Context(), oid)
	if err != nil {
		return err
	}
	if l.Stage() != lot.Making {
		return s.showMake(w, r, status, "pour", f, notice)
	}
	forms, err := s.Forms(r, oid, posted, f)
	if err != nil {
		return err
	}
	p := paperPage{Lot: l, Form: forms.Of("paper"), Seen: l.LastEntry, Traces: page.Words(lot.Traces())}
	if p.Form.Get("day") == "" {
		p.Form.Set("day", unit.FormatDay(s.Shop.Now(page.SessionOf(r).Location)))
	}
	if p.Form.Get("trace") == "" {
		p.Form.Set("trace", "light")
	}
	closed := l.State().Closed
	for _, sec := range l.Sheet() {
		one := paperSection{Title: sec.Title}
		for _, i := range sec.Items {
			if !closed[i.Key] {
				item := paperItem{Field: "weight." + string(i.Key), Label: i.Name, Hint: fmt.Sprintf("of %.*f g", i.Decimals, i.Target)}
				if item.Deliveries, err = s.fromOn(r, l, i); err != nil {
					return err
				}
				if item.From = "from." + string(i.Key); len(item.Deliveries) > 0 && !p.Form.Values.Has(item.From) {
					p.Form.Set(item.From, item.Deliveries[0].Value)
				}
				one.Items = append(one.Items, item)
			}
		}
		if len(one.Items) > 0 {
			p.Sheet = append(p.Sheet, one)
		}
	}
	return s.Show(w, r, status, "paper", "From paper: lot "+l.Code, "Make", notice, p)
}

// fromOn are the deliveries that an item of a sheet can be out of, the one to be used first at the head; none where
// the books know of none.
func (s *Room) fromOn(r *http.Request, l *lot.Lot, i plan.Item) (out []page.Option, err error) {
	if !inventory.Booked(i.Key) {
		return nil, nil
	}
	list, m, err := s.Shop.AtHand(r.Context(), inventory.KeyOf(l.Frozen.Formula, i.Key), i.Name)
	for _, d := range list {
		if d.Open() && d.Booked && d.Left > 0 {
			out = append(out, page.Option{Value: d.OID, Label: page.DeliveryWords(d, inventory.LifeOf(m), page.SessionOf(r).System)})
		}
	}
	if len(out) > 0 {
		out = append(out, page.Option{Label: "not said"})
	}
	return out, err
}

func (s *Room) readPaper(r *http.Request, f *page.Form) shop.Paper {
	p := shop.Paper{
		Weights: map[plan.Key]float64{},
		From:    map[plan.Key]string{},
		Sure:    f.Get("sure") == "on",
		Left:    f.Get("left_out"),
		Minutes: page.IfTyped(f, "minutes", f.Number, 0),
		Pour:    readPour(f),
	}
	for field := range f.Values {
		if key, ok := strings.CutPrefix(field, "weight."); ok && f.Get(field) != "" {
			p.Weights[plan.Key(key)] = f.Mass(field)
		}
		if key, ok := strings.CutPrefix(field, "from."); ok {
			p.From[plan.Key(key)] = f.Get(field)
		}
	}
	p.When = f.Moment(page.SessionOf(r).Location, "when", "day", "time")
	return p
}

// How the stream of a device is paced.
const (
	streamPace  = 150 * time.Millisecond // between two pictures
	streamBeat  = time.Second            // a sign of life when nothing changes, which also says that it is stale
	streamWrite = 5 * time.Second        // that one picture may take to send
)

// liveStream streams what the device of a step shows, as server-sent events,
// until the page goes away or the program is told to stop.
func (s *Room) liveStream(w http.ResponseWriter, r *http.Request) error {
	l, err := s.Shop.Lot(r.Context(), chi.URLParam(r, "oid"))
	if err != nil {
		return err
	}
	var step run.Step
	for _, one := range run.Steps(l.Order()) {
		if one.Key == r.URL.Query().Get("step") {
			step = one
		}
	}
	first := s.liveOf(r, l, step)
	if first == nil {
		return store.ErrNotFound
	}
	watch := s.Devices.Watch(first.Kind)
	out := http.NewResponseController(w)
	w.Header().Set("Content-Type", "text/event-stream")
	for {
		state, changed, open := watch.State()
		if !open {
			return nil
		}
		if err := s.sendLive(w, r, out, s.liveIs(l, step, first.Kind, state)); err != nil {
			s.Log.Debug("stream", "err", err)
			return nil
		}
		select {
		case <-r.Context().Done():
			return nil
		case <-s.Stopping:
			return nil
		case <-time.After(streamPace):
		}
		select {
		case <-r.Context().Done():
			return nil
		case <-s.Stopping:
			return nil
		case <-changed:
		case <-time.After(streamBeat):
		}
	}
}

// sendLive sends one picture of a device.
func (s *Room) sendLive(w http.ResponseWriter, r *http.Request, out *http.ResponseController, v *live) error {
	var picture bytes.Buffer
	if err := s.In(r).ExecuteTemplate(&picture, "live", v); err != nil {
		return fmt.Errorf("live: %w", err)
	}
	if err := out.SetWriteDeadline(time.Now().Add(streamWrite)); err != nil {
		return fmt.Errorf("deadline: %w", err)
	}
	for line := range bytes.Lines(picture.Bytes()) {
		if _, err := fmt.Fprintf(w, "data: %s\n", bytes.TrimRight(line, "\r\n")); err != nil {
			return err
		}
	}
	if _, err := fmt.Fprint(w, "\n"); err != nil {
		return err
	}
	return out.Flush()
}

// tellDevice tells a stand-in what happens on the bench: the hand that pours in
// the demo.
func (s *Room) tellDevice(w http.ResponseWriter, r *http.Request) error {
	kind := device.Kind(chi.URLParam(r, "kind"))
	if err := s.Devices.Tell(kind, r.PostFormValue("command")); err != nil {
		http.Error(w, err.Error(), http.StatusUnprocessableEntity)
		return nil
	}
	if r.Header.Get("HX-Request") == "" {
		return page.SeeOther(w, r, "/make")
	}
	w.WriteHeader(http.StatusNoContent)
	return nil
}

// tareScale makes the scale show zero.
func (s *Room) tareScale(w http.ResponseWriter, r *http.Request) error {
	s.tare(r.Context())
	if r.Header.Get("HX-Request") == "" {
		return page.SeeOther(w, r, "/make")
	}
	w.WriteHeader(http.StatusNoContent)
	return nil
}

// photo serves a photo. Its name is its content, so it never changes.
func (s *Room) photo(w http.ResponseWriter, r *http.Request) error {
	f, err := s.Shop.Photo(r.Context(), chi.URLParam(r, "file"))
	if err != nil {
		return err
	}
	defer f.Close()
	w.Header().Set("Cache-Control", "private, max-age=31536000, immutable")
	http.ServeContent(w, r, "photo"+path.Ext(f.Name()), time.Time{}, f)
	return nil
}
