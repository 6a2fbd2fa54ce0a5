package shop

import (
	"context"
	"fmt"
	"strings"
	"time"

	"ashshelf/soap/caution"
	"ashshelf/soap/cure"
	"ashshelf/soap/lot"
	"ashshelf/soap/lye"
	"ashshelf/soap/plan"
	"ashshelf/soap/recipe"
	"ashshelf/store"
)

// Order is what somebody wants made: a recipe and molds.
type Order struct {
	Recipe      string // identity
	Molds       []OrderMold
	Rule        plan.FillRule
	PotLoss     float64 // percent
	PotCapacity float64 // g, 0 for any
	ScaleStep   float64 // g
	LiquidC     float64 // °C
}

// OrderMold is a mold and how many of it.
type OrderMold struct {
	OID   string
	Count int
}

// Worked is an order that is worked out, not yet kept.
type Worked struct {
	Recipe Recipe
	PlanBody
}

// PlanBody is a plan as it is kept.
type PlanBody struct {
	Recipe   string         `json:"recipe"` // name
	Revision int            `json:"revision"`
	Request  plan.Request   `json:"request"`
	Plan     plan.Plan      `json:"plan"`
	Molds    []lot.Mold     `json:"molds"`
	Sheet    []plan.Section `json:"sheet"` // of one pot
	Policy   cure.Policy    `json:"policy"`
	Scale    float64        `json:"scale_step"`
}

// Bars is how many bars are expected of one pot, 0 when not all molds say.
func (b PlanBody) Bars() int {
	n := 0
	for _, m := range b.Molds {
		if m.Bars == 0 {
			return 0
		}
		n += m.Bars * m.Count
	}
	return n / max(1, b.Plan.Batches)
}

// Plan is a kept plan.
type Plan struct {
	store.Plan
	PlanBody
}

// NextPot is the number of the pot that is to be started next, 0 when all
// were.
func (p Plan) NextPot() int {
	if n := len(p.Lots); n < p.PlanBody.Plan.Batches {
		return n + 1
	}
	return 0
}

// WorkOut plans an order without keeping it.
func (s *Shop) WorkOut(ctx context.Context, o Order) (w Worked, err error) {
	history, err := s.RecipeHistory(ctx, o.Recipe)
	if err != nil {
		return w, fmt.Errorf("choose a recipe: %w", err)
	}
	molds, err := s.Molds(ctx)
	if err != nil {
		return w, err
	}
	w.Recipe = history[0]
	w.PlanBody = PlanBody{Recipe: w.Recipe.Name, Revision: w.Recipe.Number, Policy: w.Recipe.Cure(), Scale: o.ScaleStep}
	w.Request = plan.Request{Formula: w.Recipe.Formula, Rule: o.Rule, PotLoss: o.PotLoss, PotCapacity: o.PotCapacity, Resolution: o.ScaleStep, LiquidC: o.LiquidC}
	for _, want := range o.Molds {
		for _, m := range molds {
			if m.OID == want.OID && want.Count != 0 {
				w.Molds = append(w.Molds, lot.Mold{Name: m.Name, Material: m.Material, Mold: m.Mold, Count: want.Count, Bars: m.Bars})
				w.Request.Target.Molds = append(w.Request.Target.Molds, plan.MoldCount{Mold: m.Mold, Count: want.Count})
			}
		}
	}
	if len(w.Molds) == 0 {
		return w, caution.Problems{{Path: "molds", Text: "say how many of at least one mold"}}
	}
	if w.Plan, err = plan.Make(w.Request); err != nil {
		return w, err
	}
	w.Sheet = plan.Sheet(w.Recipe.Formula, w.Plan.Pot(), o.ScaleStep)
	return w, nil
}

// KeepPlan works an order out and keeps the plan as it is now.
func (s *Shop) KeepPlan(ctx context.Context, act Act, o Order) (oid string, err error) {
	w, err := s.WorkOut(ctx, o)
	if err != nil {
		return "", err
	}
	text, err := encode(w.PlanBody)
	if err != nil {
		return "", err
	}
	return s.byPerson(ctx, act, func(c *change) (string, error) {
		entry, err := c.entry("plan")
		if err != nil {
			return "", err
		}
		oid := newOID()
		return oid, c.AddPlan(entry, oid, w.Recipe.Entry.ID, text)
	})
}

func asPlan(p store.Plan) (Plan, error) {
	body, err := decode[PlanBody]("plan", p.Body)
	return Plan{p, body}, err
}

// Plan returns a kept plan.
func (s *Shop) Plan(ctx context.Context, oid string) (out Plan, err error) {
	err = s.db.Read(ctx, func(tx *store.Tx) error {
		p, err := tx.Plan(oid)
		if err != nil {
			return err
		}
		out, err = asPlan(p)
		return err
	})
	return out, err
}

// OpenPlans returns the newest plans that no lot was started from.
func (s *Shop) OpenPlans(ctx context.Context) (out []Plan, err error) {
	err = s.db.Read(ctx, func(tx *store.Tx) error {
		list, err := tx.OpenPlans(20)
		if err != nil {
			return err
		}
		for _, p := range list {
			one, err := asPlan(p)
			if err != nil {
				return err
			}
			out = append(out, one)
		}
		return nil
	})
	return out, err
}

// StartLot starts the next pot of a plan as a lot and returns its identity. A
// plan that is blocked needs a written reason.
func (s *Shop) StartLot(ctx context.Context, act Act, planOID string, pot int, override string) (oid string, err error) {
	return s.byPerson(ctx, act, func(c *change) (string, error) {
		kept, err := c.Plan(planOID)
		if err != nil {
			return "", err
		}
		p, err := asPlan(kept)
		if err != nil {
			return "", err
		}
		if p.NextPot() == 0 || p.NextPot() != pot {
			return "", &Conflict{What: "this plan", Who: "somebody", When: c.now}
		}
		override = strings.TrimSpace(override)
		if blocks := caution.Blocks(p.PlanBody.Plan.Cautions); len(blocks) > 0 && override == "" {
			return "", caution.Problems{{Path: "override", Text: blocks[0].Text() + " To start all the same, write why."}}
		}
		number, err := c.NextLotNumber()
		if err != nil {
			return "", err
		}
		kind := ""
		life, err := c.lifeOf(p.Plan.Recipe, p.PlanBody.Revision)
		if err != nil {
			return "", err
		}
		if life != recipe.Tested {
			kind = lot.Trial
		}
		frozen, err := encode(lot.Frozen{
			Version: 1, Program: Version, Recipe: p.PlanBody.Recipe, Revision: p.PlanBody.Revision, Formula: p.Request.Formula,
			Pot: p.PlanBody.Plan.Pot(), Sheet: p.Sheet, Molds: p.Molds, Policy: p.Policy, Request: p.Request, Scale: p.Scale,
			Unmold: cure.Unmold(p.Request.Formula, p.Molds[0].Material), Overrides: override, Expected: p.Bars(), Kind: kind,
		})
		if err != nil {
			return "", err
		}
		entry, err := c.entry("lot")
		if err != nil {
			return "", err
		}
		oid := newOID()
		return oid, c.AddLot(entry, oid, number, lot.Code(number), planOID, p.Plan.Recipe, pot, frozen, lot.Weighed)
	})
}

// DefaultOrder is an order with the usual settings and nothing in it.
func (s Settings) DefaultOrder() Order {
	return Order{Rule: plan.Computed, PotLoss: 1, ScaleStep: s.ScaleStep, LiquidC: lye.RoomC}
}

// Since is how long ago something was, for pages.
func (s *Shop) Since(t time.Time) time.Duration { return s.now().Sub(t) }
