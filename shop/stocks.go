package shop

import (
	"context"
	"errors"
	"fmt"
	"math"
	"slices"
	"strings"
	"time"

	"ashshelf/soap/caution"
	"ashshelf/soap/fat"
	"ashshelf/soap/lot"
	"ashshelf/soap/lye"
	"ashshelf/soap/plan"
	"ashshelf/soap/unit"
	"ashshelf/store"
)

// Kinds of what is kept in a container.
const (
	NaOH = "naoh"
	KOH  = "koh"
	Fats = "fats"
)

// Stock is a container of lye or of blended fats as it is now.
type Stock struct {
	store.Stock
	StockBody
	Strength float64   // percent of pure alkali, as it was last rated
	C        float64   // °C, as it was last read; the room's when nobody read it lately
	Read     time.Time // when; zero when nobody read it lately
	Status   store.Status
	Why      string // of the status
}

// StockBody is what a container was filled with, as weighed.
type StockBody struct {
	Target    float64 // strength aimed for, percent
	Purity    float64
	AlkaliG   float64
	WaterG    float64
	Lot       string // of the supplier
	Blend     fat.Blend
	Container string
	ML        float64
	Material  lye.Material
	Tare      float64 // g, empty with its cap
	PeakC     float64
	Note      string
}

// Lye is the stock as the core knows it.
func (s Stock) Lye() lye.Stock {
	return lye.Stock{Strength: s.Strength, C: s.C, KOH: s.Kind == KOH, Name: s.Code}
}

// Contents says what is in it.
func (s Stock) Contents() string {
	switch s.Kind {
	case NaOH:
		return "Sodium hydroxide, " + unit.Trim(s.Strength, 1) + " %"
	case KOH:
		return "Potassium hydroxide, " + unit.Trim(s.Strength, 1) + " %"
	}
	parts := make([]string, len(s.Blend))
	for i, one := range s.Blend {
		parts[i] = one.Fat.Name + " " + unit.Trim(one.Percent, 1) + " %"
	}
	return strings.Join(parts, ", ")
}

// readingCounts is how long a temperature that was read counts before the room's is
// taken again.
const readingCounts = 12 * time.Hour

func asStock(row store.Stock, room float64, now time.Time) (Stock, error) {
	body, err := decode("stock "+row.Code, readContainer, row.Body)
	s := Stock{Stock: row, StockBody: body, C: room, Status: store.InUse}
	if s.Kind != Fats {
		s.Strength = lye.Made(body.AlkaliG, body.WaterG, body.Purity)
	}
	for _, w := range row.Words {
		if w.Strength != nil {
			s.Strength = *w.Strength
		}
		if w.Celsius != nil && now.Sub(w.At) < readingCounts {
			s.C, s.Read = *w.Celsius, w.At
		}
		if w.Status != "" {
			s.Status, s.Why = w.Status, w.Why
		}
	}
	return s, err
}

func (k *Keeper) readStocks(ctx context.Context, read func(*store.Tx) ([]store.Stock, error)) (out []Stock, err error) {
	err = k.Read(ctx, func(tx *store.Tx) error {
		settings, err := tx.Shop()
		if err != nil {
			return err
		}
		rows, err := read(tx)
		if err != nil {
			return err
		}
		for _, row := range rows {
			one, err := asStock(row, settings.RoomC, k.Clock())
			if err != nil {
				return err
			}
			out = append(out, one)
		}
		return nil
	})
	return out, err
}

// Stocks returns the containers that are not gone, the newest first; with all,
// the gone ones too.
func (k *Keeper) Stocks(ctx context.Context, all bool) ([]Stock, error) {
	return k.readStocks(ctx, func(tx *store.Tx) ([]store.Stock, error) { return tx.Stocks(all, 200) })
}

// StockByOID returns one container.
func (k *Keeper) StockByOID(ctx context.Context, oid string) (Stock, error) {
	list, err := k.readStocks(ctx, func(tx *store.Tx) ([]store.Stock, error) {
		one, err := tx.Stock(oid)
		return []store.Stock{one}, err
	})
	if err != nil {
		return Stock{}, err
	}
	return list[0], nil
}

// Filling is the filling of a container, with what the maker confirms.
type Filling struct {
	Kind string
	StockBody
	Gear  bool // gloves, goggles, fresh air
	Clear bool // nothing is left on the bottom
}

// CheckFilling finds what stands against a filling of lye.
func CheckFilling(f Filling) caution.Problems {
	var p caution.Problems
	if f.Kind != NaOH && f.Kind != KOH {
		p.Add("kind", "choose sodium or potassium hydroxide; the two are never mixed in one jug")
	}
	b := lye.Batch{Stock: lye.Stock{Strength: f.Target, KOH: f.Kind == KOH}, Purity: f.Purity, Grams: f.AlkaliG + f.WaterG}
	b.Check(&p, "stock")
	checkContainer(&p, f.StockBody)
	if !slices.Contains(lye.Materials(), f.Material) {
		p.Add("material", "choose what the container is made of")
	} else if list := caution.Blocks(f.Material.Advise(0)); len(list) > 0 {
		p.Add("material", "%s", list[0].Text())
	}
	if f.ML > 0 {
		for _, c := range caution.Blocks(b.Fill(b.Grams, f.ML)) {
			p.Add("ml", "%s", c.Text())
		}
	}
	return p
}

func checkContainer(p *caution.Problems, b StockBody) {
	if strings.TrimSpace(b.Container) == "" {
		p.Add("container", "name the container, such as blue canister 1")
	}
	if b.ML < 0 || b.ML > 1e6 {
		p.Add("ml", "a container holds between nothing and 1000 l")
	}
	if b.Tare < 0 || b.Tare > 1e5 {
		p.Add("tare", "an empty container weighs between nothing and 100 kg")
	}
}

// FillStock records a stock of lye that was made, with the strength of what was
// really weighed.
func (k *Keeper) FillStock(ctx context.Context, act Act, f Filling) (string, error) {
	p := CheckFilling(f)
	caution.Positive(&p, "alkali_g", "the alkali", f.AlkaliG)
	caution.Positive(&p, "water_g", "the water", f.WaterG)
	if !f.Gear {
		p.Add("gear", "goggles, gloves, long sleeves, fresh air: tick it when they are on")
	}
	if !f.Clear {
		p.Add("clear", "stir until nothing is left on the bottom, feel it with the spatula, then tick it")
	}
	if got := lye.Made(f.AlkaliG, f.WaterG, f.Purity); len(p) == 0 && (got > caution.LyeStrength.Max || got < caution.LyeStrength.Min) {
		p.Add(
			"alkali_g",
			"what was weighed comes to %s %%; a stock lies between %s and %s %%",
			unit.Trim(got, 1),
			unit.Trim(caution.LyeStrength.Min, 0),
			unit.Trim(caution.LyeStrength.Max, 0),
		)
	}
	if err := p.Err(); err != nil {
		return "", err
	}
	return k.fill(ctx, act, f.Kind, f.StockBody, f.AlkaliG+f.WaterG)
}

// FillFats records a blend of fats that was melted together. The shares of the
// blend hold grams as weighed and become percent.
func (k *Keeper) FillFats(ctx context.Context, act Act, b StockBody) (string, error) {
	var p caution.Problems
	checkContainer(&p, b)
	total := b.Blend.Sum(func(fat.Fat) bool { return true })
	if len(b.Blend) == 0 || total <= 0 {
		p.Add("fats", "name the fats with their weights")
	}
	for i, one := range b.Blend {
		if one.Percent <= 0 {
			p.Add(fmt.Sprintf("fats[%d].percent", i), "type what was weighed, more than 0 g")
		}
		if slices.ContainsFunc(b.Blend[:i], func(x fat.Share) bool { return x.Fat.Key() == one.Fat.Key() }) {
			p.Add(fmt.Sprintf("fats[%d].fat", i), "%s is in it already", one.Fat.Name)
		}
	}
	if err := p.Err(); err != nil {
		return "", err
	}
	for i := range b.Blend {
		b.Blend[i].Percent *= 100 / total
	}
	return k.fill(ctx, act, Fats, b, total)
}

func (k *Keeper) fill(ctx context.Context, act Act, kind string, body StockBody, grams float64) (string, error) {
	text, err := encode(body)
	if err != nil {
		return "", err
	}
	return k.byPerson(ctx, act, func(c *change) (string, error) {
		number, err := c.NextStockNumber()
		if err != nil {
			return "", err
		}
		entry, err := c.entry("stock")
		if err != nil {
			return "", err
		}
		oid := newOID()
		id, err := c.AddStock(entry, oid, number, "J"+lot.Code(number), kind, text)
		if err != nil {
			return "", err
		}
		move, err := c.entry("stock move")
		if err != nil {
			return "", err
		}
		return oid, c.MoveStock(move, id, store.StockMove{What: store.Made, Change: grams}, 0)
	})
}

// onStock runs one act on a container that is not gone.
func (k *Keeper) onStock(ctx context.Context, act Act, oid string, do func(*change, Stock) error) error {
	_, err := k.byPerson(ctx, act, func(c *change) (string, error) {
		one, err := c.stock(oid)
		if err != nil {
			return "", err
		}
		if one.Status == store.Gone {
			return "", &lot.NotNow{Why: one.Code + " is gone: " + one.Why}
		}
		return oid, do(c, one)
	})
	return err
}

func (c *change) stock(oid string) (Stock, error) {
	row, err := c.Stock(oid)
	if err != nil {
		return Stock{}, err
	}
	settings, err := c.Shop()
	if err != nil {
		return Stock{}, err
	}
	return asStock(row, settings.RoomC, c.now)
}

func (c *change) word(s Stock, w store.StockUpdate) error {
	entry, err := c.entry("stock word")
	if err != nil {
		return err
	}
	return c.AddStockWord(entry, s.ID, w)
}

func (c *change) move(s Stock, m store.StockMove, lotID int64) error {
	entry, err := c.entry("stock move")
	if err != nil {
		return err
	}
	return c.MoveStock(entry, s.ID, m, lotID)
}

// draw takes grams out of a container for a lot; below zero it puts them back.
func (c *change) draw(oid string, grams float64, lotID int64, note string) error {
	one, err := c.stock(oid)
	if err != nil {
		return err
	}
	if one.Status != store.InUse && grams > 0 {
		return caution.Problems{{Path: "grams", Text: one.Code + " is not to be used: " + one.Why}}
	}
	err = c.move(one, store.StockMove{What: store.Drawn, Change: -grams, Note: note}, lotID)
	if errors.Is(err, store.ErrEmpty) {
		return caution.Problems{
			{
				Path: "grams",
				Text: fmt.Sprintf(
					"by the books %s holds only %s g. Weigh the container, then the books agree with it.",
					one.Code,
					unit.Trim(one.Balance, 1),
				),
			},
		}
	}
	return err
}

// DrawStock takes some out of a container for something that is not a lot.
func (k *Keeper) DrawStock(ctx context.Context, act Act, oid string, grams float64, note string) error {
	var p caution.Problems
	caution.Positive(&p, "grams", "what was taken", grams)
	if strings.TrimSpace(note) == "" {
		p.Add("note", "write what it was for")
	}
	if err := p.Err(); err != nil {
		return err
	}
	return k.onStock(ctx, act, oid, func(c *change, one Stock) error { return c.draw(oid, grams, 0, strings.TrimSpace(note)) })
}

// Counted is what a weighing of a container says.
type Counted struct {
	Net     float64 // g in it by the scale
	Off     float64 // percent that the scale is away from the books
	Called  bool    // too far to pass without a word
	IfWater float64 // strength in percent if only water has left
}

// Count reads a weighing of a container, cap and all.
func (s Stock) Count(gross float64) Counted {
	c := Counted{Net: gross - s.Tare}
	if s.Balance > 0 {
		c.Off = 100 * (c.Net/s.Balance - 1)
	}
	c.Called = math.Abs(c.Off) > lye.Mismatch
	if c.Off < 0 && s.Kind != Fats {
		c.IfWater = lye.Evaporated(s.Strength, s.Balance, c.Net)
	}
	return c
}

// CountStock sets the books to what the scale says of a container. A mismatch
// over one percent needs a word; when it was water that left, the strength is
// rated anew.
func (k *Keeper) CountStock(ctx context.Context, act Act, oid string, gross float64, water bool, why string) error {
	return k.onStock(ctx, act, oid, func(c *change, one Stock) error {
		n := one.Count(gross)
		var p caution.Problems
		why = strings.TrimSpace(why)
		switch {
		case one.Tare == 0:
			p.Add("gross", "its empty weight is not known, so the scale cannot be read against the books")
		case n.Net < 0:
			p.Add("gross", "%s g is less than the empty container (%s g)", unit.Trim(gross, 1), unit.Trim(one.Tare, 1))
		case n.Called && why == "":
			p.Add(
				"why",
				"the scale is %s %% away from the books (%s g in place of %s g): write what happened",
				unit.Trim(n.Off, 1),
				unit.Trim(n.Net, 1),
				unit.Trim(one.Balance, 1),
			)
		case water && (n.IfWater == 0 || n.IfWater > caution.LyeStrength.Max):
			p.Add("water", "that much water cannot have left: the strength would be %s %%", unit.Trim(n.IfWater, 1))
		}
		if err := p.Err(); err != nil {
			return err
		}
		if err := c.move(one, store.StockMove{What: store.Counted, Change: n.Net - one.Balance, Note: why}, 0); err != nil {
			return err
		}
		if water {
			return c.word(one, store.StockUpdate{Strength: &n.IfWater, How: "water evaporated", Why: why})
		}
		return nil
	})
}

// Verified is what a density says of a stock.
type Verified struct {
	Density  float64 // g/ml
	Strength float64 // percent
	Off      float64 // points from what it is rated at
	ReRate   bool    // far enough to be rated anew
}

// Verify reads a density of the stock at a temperature.
func (s Stock) Verify(density, celsius float64) (Verified, error) {
	v := Verified{Density: density}
	var ok bool
	if v.Strength, ok = lye.ByDensity(density, celsius, s.Kind == KOH); !ok {
		var p caution.Problems
		p.Add(
			"density",
			"%s g/ml is no density of this lye; a %s %% solution has about %s at %s °C",
			unit.Trim(density, 3),
			unit.Trim(s.Strength, 0),
			unit.Fixed(s.Lye().Density(celsius), 3),
			unit.Trim(celsius, 0),
		)
		return v, p
	}
	v.Off = v.Strength - s.Strength
	v.ReRate = math.Abs(v.Off) > lye.ReRate
	return v, nil
}

// VerifyStock records a check by density; a stock that differs by more than
// half a point is rated anew.
func (k *Keeper) VerifyStock(ctx context.Context, act Act, oid string, density, celsius float64) error {
	var p caution.Problems
	caution.Temperature.Check(&p, "at_c", "its temperature", celsius)
	if err := p.Err(); err != nil {
		return err
	}
	return k.onStock(ctx, act, oid, func(c *change, one Stock) error {
		if one.Kind == Fats {
			return &lot.NotNow{Why: "a blend of fats has no strength"}
		}
		v, err := one.Verify(density, celsius)
		if err != nil {
			return err
		}
		w := store.StockUpdate{
			Celsius: &celsius,
			How: fmt.Sprintf(
				"density %s g/ml at %s °C says %s %%",
				unit.Fixed(density, 3),
				unit.Trim(celsius, 1),
				unit.Fixed(v.Strength, 1),
			),
		}
		if v.ReRate {
			w.Strength = &v.Strength
		}
		return c.word(one, w)
	})
}

// ReadStock notes the temperature of a container.
func (k *Keeper) ReadStock(ctx context.Context, act Act, oid string, celsius float64) error {
	var p caution.Problems
	caution.Temperature.Check(&p, "celsius", "its temperature", celsius)
	if err := p.Err(); err != nil {
		return err
	}
	return k.onStock(ctx, act, oid, func(c *change, one Stock) error {
		return c.word(one, store.StockUpdate{Celsius: &celsius, How: "read"})
	})
}

// SetStockStatus quarantines a container, frees it, or says that it is gone; why
// is always written.
func (k *Keeper) SetStockStatus(ctx context.Context, act Act, oid string, status store.Status, why string) error {
	if why = strings.TrimSpace(why); why == "" {
		return caution.Problems{{Path: "status_why", Text: "write why"}}
	}
	return k.onStock(ctx, act, oid, func(c *change, one Stock) error {
		if !slices.Contains(store.Statuses(), status) {
			return caution.Problems{{Path: "status_why", Text: "choose what becomes of it"}}
		}
		if status == store.Gone && one.Balance > 0 {
			if err := c.move(one, store.StockMove{What: store.Disposed, Change: -one.Balance, Note: why}, 0); err != nil {
				return err
			}
		}
		return c.word(one, store.StockUpdate{Status: status, How: string(status), Why: why})
	})
}

// DiluteStock brings a stock down to a lower strength with water that was
// weighed in.
func (k *Keeper) DiluteStock(ctx context.Context, act Act, oid string, waterG float64) error {
	return k.onStock(ctx, act, oid, func(c *change, one Stock) error {
		var p caution.Problems
		if one.Kind == Fats {
			return &lot.NotNow{Why: "a blend of fats is not diluted"}
		}
		caution.Positive(&p, "dilute_water", "the water", waterG)
		to := 0.0
		if one.Balance+waterG > 0 {
			to = one.Strength * one.Balance / (one.Balance + waterG)
		}
		if len(p) == 0 && to < caution.LyeStrength.Min {
			p.Add("dilute_water", "that leaves a lye of %s %%, too weak for a stock", unit.Trim(to, 1))
		}
		after := lye.Stock{Strength: to, KOH: one.Kind == KOH}
		if one.ML > 0 && len(p) == 0 {
			for _, b := range caution.Blocks(after.Fill(one.Balance+waterG, one.ML)) {
				p.Add("dilute_water", "%s", b.Text())
			}
		}
		if err := p.Err(); err != nil {
			return err
		}
		if err := c.move(one, store.StockMove{What: store.Watered, Change: waterG}, 0); err != nil {
			return err
		}
		return c.word(one, store.StockUpdate{Strength: &to, How: fmt.Sprintf("diluted with %s g of water", unit.Trim(waterG, 1))})
	})
}

// Wanted is the pure alkali in g that the kept plans of the days to come weigh
// dry, so that a stock can be made for them.
func (pl *Planner) Wanted(ctx context.Context) (naoh, koh float64, plans int, err error) {
	open, _, err := pl.OpenPlans(ctx, 0)
	for _, p := range open {
		if p.Request.Stock != nil {
			continue
		}
		al := p.Request.Formula.Alkali
		naoh += p.PlanBody.Plan.NaOH * al.NaOHPurity / 100
		koh += p.PlanBody.Plan.KOH * al.KOHPurity / 100
		plans++
	}
	return naoh, koh, plans, err
}

// takeFrom sets the containers that an order takes from, when they can serve.
func (pl *Planner) takeFrom(ctx context.Context, o Order, w *ComputedPlan) error {
	var p caution.Problems
	find := func(field, oid string, fats bool) (Stock, error) {
		one, err := pl.StockByOID(ctx, oid)
		if err != nil {
			return one, err
		}
		switch {
		case (one.Kind == Fats) != fats:
			p.Add(field, "%s does not hold that", one.Code)
		case one.Status != store.InUse:
			p.Add(field, "%s is not to be used: %s. Free it, or do without it.", one.Code, one.Why)
		case one.Balance <= 0:
			p.Add(field, "%s is empty by the books. Take another one, or do without it.", one.Code)
		}
		return one, nil
	}
	if o.Stock != "" {
		one, err := find("stock", o.Stock, false)
		if err != nil {
			return err
		}
		k := one.Lye()
		w.Request.Stock, w.Request.StockShare, w.StockOID = &k, o.StockShare, o.Stock
		w.stockHas = one.Balance
	}
	if o.FatStock != "" {
		one, err := find("fat_stock", o.FatStock, true)
		if err != nil {
			return err
		}
		w.Request.FatStock, w.FatStockOID = &plan.FatStock{Name: one.Code, Blend: one.Blend, Grams: one.Balance}, o.FatStock
	}
	return p.Err()
}

// enough refuses a plan that draws more than its stock holds.
func (w *ComputedPlan) enough() error {
	d := w.Plan.Draw
	if d == nil || w.StockOID == "" || d.Solution <= w.stockHas {
		return nil
	}
	share := 100.0
	if w.Request.StockShare > 0 {
		share = w.Request.StockShare
	}
	return caution.Problems{
		{Path: "stock", Text: fmt.Sprintf(
			"%s holds %s g and this order draws %s g: %s g are missing. Draw %s %% of the lye from it and weigh the rest dry, or make more.",
			w.Request.Stock.Name,
			unit.Trim(w.stockHas, 0),
			unit.Trim(d.Solution, 0),
			unit.Trim(d.Solution-w.stockHas, 0),
			unit.Trim(math.Floor(share*w.stockHas/d.Solution), 0),
		)},
	}
}

// stillTheSame refuses to start a lot when its stock is no longer what it was
// planned with.
func (c *change) stillTheSame(p Plan) error {
	if p.StockOID == "" {
		return nil
	}
	one, err := c.stock(p.StockOID)
	if err != nil {
		return err
	}
	switch {
	case one.Status != store.InUse:
		return caution.Problems{
			{Path: "override", Text: one.Code + " is not to be used: " + one.Why + ". Plan it anew with other lye."},
		}
	case math.Abs(one.Strength-p.Request.Stock.Strength) > 0.05:
		return caution.Problems{
			{
				Path: "override",
				Text: fmt.Sprintf(
					"%s is now rated at %s %%; this was planned with %s %%. Plan it anew.",
					one.Code,
					unit.Trim(one.Strength, 1),
					unit.Trim(p.Request.Stock.Strength, 1),
				),
			},
		}
	}
	return nil
}

// Tau is the cooling clock in minutes that the last five of the shop's own pots
// of a kind tell for grams. seen is how many it rests on.
func (k *Keeper) Tau(ctx context.Context, tool string, v lye.Vessel, fats bool, grams float64) (tau float64, seen int, err error) {
	var list []store.Cooled
	err = k.Read(ctx, func(tx *store.Tx) (err error) {
		list, err = tx.Cooled(tool, string(v), fats, 5)
		return err
	})
	var ratios []float64
	for _, c := range list {
		ratios = append(ratios, c.Learned/c.Usual)
	}
	return lye.OwnTau(lye.UsualTau(grams, v, fats), ratios), len(ratios), err
}

// NoteCooling keeps what the readings of a pot told of its clock.
func (k *Keeper) NoteCooling(ctx context.Context, act Act, c store.Cooled) error {
	if !(c.Learned > 0) || math.IsInf(c.Learned, 0) || !(c.Usual > 0) {
		return caution.Problems{{Path: "readings", Text: "log at least two temperatures some minutes apart"}}
	}
	_, err := k.byPerson(ctx, act, func(ch *change) (string, error) {
		entry, err := ch.entry("cooling")
		if err != nil {
			return "", err
		}
		return "", ch.AddCooled(entry, c)
	})
	return err
}
