package catalog

import (
	"cmp"
	"context"
	"errors"
	"fmt"
	"net"
	"slices"
	"strings"
	"time"

	"ashshelf/shop/journal"
	"ashshelf/soap/caution"
	"ashshelf/soap/clock"
	"ashshelf/soap/lye"
	"ashshelf/soap/plan"
	"ashshelf/soap/role"
	"ashshelf/soap/unit"
	"ashshelf/store"
)

// Settings is the shop with what follows from its settings.
type Settings struct {
	store.Shop
	Location *time.Location
	System   unit.System
	People   []store.Person
	Doubt    clock.Doubt // of the clock as it stands
	Newest   time.Time   // the entry that the clock is held to
}

// Working returns the people who work here now.
func (s Settings) Working() []store.Person {
	var out []store.Person
	for _, p := range s.People {
		if p.Active {
			out = append(out, p)
		}
	}
	return out
}

// Settings reads the settings; [ErrNotFounded] when there are none yet.
func (cat *Catalog) Settings(ctx context.Context) (out Settings, err error) {
	err = cat.Read(ctx, func(tx *store.Tx) (err error) {
		if out.Shop, err = tx.Shop(); errors.Is(err, store.ErrNotFound) {
			return journal.ErrNotFounded
		}
		if err != nil {
			return err
		}
		if out.Doubt, out.Newest, err = cat.DoubtIn(tx); err != nil {
			return err
		}
		out.People, err = tx.People()
		return err
	})
	if err != nil {
		return out, err
	}
	out.System = unit.System(out.Units)
	if out.Location, err = time.LoadLocation(out.Zone); err != nil {
		return out, fmt.Errorf("time zone: %w", err)
	}
	return out, nil
}

// checkShop finds what cannot be worked with in settings.
func checkShop(v store.Shop) caution.Problems {
	var p caution.Problems
	if strings.TrimSpace(v.Name) == "" {
		p.Add("name", "give the shop a name")
	}
	p.Name("name", v.Name)
	p.Name("emergency", v.Emergency)
	if _, err := time.LoadLocation(v.Zone); err != nil || v.Zone == "" || v.Zone == "Local" {
		p.Add("zone", "“%s” is not a time zone; type it like Europe/Dublin", v.Zone)
	}
	if !unit.System(v.Units).Valid() {
		p.Add("units", "choose metric or US units")
	}
	if len(v.Currency) != 3 || strings.ToUpper(v.Currency) != v.Currency ||
		strings.Trim(v.Currency, "ABCDEFGHIJKLMNOPQRSTUVWXYZ") != "" {
		p.Add("currency", "type the currency's three capital letters, such as EUR")
	}
	if !(v.ScaleStep >= 0.01 && v.ScaleStep <= 10) {
		p.Add("scale_step", "the scale's step must lie between 0.01 and 10 g")
	}
	if v.FineStep != 0 && !(v.FineStep >= 0.001 && v.FineStep < v.ScaleStep) {
		p.Add("fine_step", "a fine scale reads finer than the bench scale; leave it empty when there is none")
	}
	if v.FineStep != 0 && !(v.FineMax > 0 && v.FineMax <= 20000) {
		p.Add("fine_max", "say what the fine scale takes, such as 200 g")
	}
	if !slices.Contains(plan.FillRules(), plan.FillRule(v.FillRule)) {
		p.Add("fill_rule", "choose how molds are filled")
	}
	caution.PotLoss.Check(&p, "pot_loss", "what stays in the pot", v.PotLoss)
	if !(v.RoomC >= -10 && v.RoomC <= 45) {
		p.Add("room_c", "the workshop's temperature must lie between -10 and 45 °C")
	}
	for _, day := range strings.Fields(v.DaysOff) {
		if !slices.Contains([]string{"mon", "tue", "wed", "thu", "fri", "sat", "sun"}, day) {
			p.Add("days_off", "“%s” is no day of the week", day)
		}
	}
	for path, at := range map[string]string{"scale_at": v.ScaleAt, "probe_at": v.ProbeAt} {
		if host, port, err := net.SplitHostPort(at); at != "" && (err != nil || host == "" || port == "") {
			p.Add(path, "write where it is found as host:port, such as 192.168.1.30:8430, or leave it empty")
		}
	}
	if v.HourRate < 0 || v.HourRate > 1e9 {
		p.Add("hour_rate", "an hour of work costs nothing or more")
	}
	if v.FreightBy != "" && v.FreightBy != "weight" && v.FreightBy != "price" {
		p.Add("freight_by", "choose what freight is shared by")
	}
	if !(v.RiskyLoad > 0 && v.RiskyLoad <= 100) {
		p.Add("risky_load", "give a scent that may hurry between 1 and 100 %% of the pot's load")
	}
	return p
}

// usual fills in what a new shop has not said.
func usual(v store.Shop) store.Shop {
	v.FillRule = cmp.Or(v.FillRule, string(plan.Computed))
	v.RiskyLoad = cmp.Or(v.RiskyLoad, 60)
	v.RoomC = cmp.Or(v.RoomC, lye.RoomC)
	return v
}

// Found sets up a new shop with its people and returns the first of them, who is its owner.
func (cat *Catalog) Found(ctx context.Context, act journal.Act, v store.Shop, people []string) (first int64, err error) {
	v = usual(v)
	p := checkShop(v)
	var names []string
	for _, n := range people {
		if n = strings.TrimSpace(n); n == "" {
			continue
		}
		checkPerson(&p, "people", n, names)
		names = append(names, n)
	}
	if len(names) == 0 {
		p.Add("people", "name at least one person; every record says who made it")
	}
	if err := p.Err(); err != nil {
		return 0, err
	}
	_, err = cat.Change(ctx, act, func(c *journal.Change) (string, error) {
		if _, err := c.Shop(); err == nil {
			return "", &journal.Conflict{What: "the shop", Who: "somebody", When: c.Now}
		}
		entry, err := c.Entry("shop")
		if err != nil {
			return "", err
		}
		for i, n := range names {
			does := role.Maker
			if i == 0 {
				does = role.Owner
			}
			id, err := c.AddPerson(n, does)
			if err != nil {
				return "", err
			}
			if i == 0 {
				first = id
			}
		}
		return "", c.AddShop(entry, v)
	})
	return first, err
}

// ChangeSettings changes the settings from now on.
func (cat *Catalog) ChangeSettings(ctx context.Context, act journal.Act, v store.Shop) error {
	if err := checkShop(v).Err(); err != nil {
		return err
	}
	_, err := cat.ByPerson(ctx, act, func(c *journal.Change) (string, error) {
		now, err := c.Shop()
		if err != nil {
			return "", err
		}
		v.Demo = now.Demo
		return "", c.Record("settings", func(entry int64) error { return c.AddShop(entry, v) })
	})
	return err
}
