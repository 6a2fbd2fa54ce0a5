package planning

import (
	"context"
	"strings"

	"ashshelf/shop/catalog"
	"ashshelf/shop/document"
	"ashshelf/shop/journal"
	"ashshelf/soap/caution"
	"ashshelf/soap/cure"
	"ashshelf/soap/lot"
	"ashshelf/soap/recipe"
)

// StartLot starts the next pot of a plan as a lot and returns its identity. A
// plan that is blocked needs a written reason.
func (pl *Planner) StartLot(ctx context.Context, act journal.Act, planOID string, pot int, override string) (oid string, err error) {
	read, err := pl.Plan(ctx, planOID)
	if err != nil {
		return "", err
	}
	e, err := pl.Experience(ctx, []string{read.Plan.Recipe})
	if err != nil {
		return "", err
	}
	return pl.ByPerson(ctx, act, func(c *journal.Change) (string, error) {
		kept, err := c.Plan(planOID)
		if err != nil {
			return "", err
		}
		read, err := pl.asPlan(c.Tx)
		if err != nil {
			return "", err
		}
		p, err := read(kept)
		if err != nil {
			return "", err
		}
		if p.NextPot() == 0 || p.NextPot() != pot {
			return "", &journal.Conflict{What: "this plan", Who: "somebody", When: c.Now}
		}
		if p.Away {
			return "", caution.Problems{{Path: "away", Text: "this plan is put away: take it out again first"}}
		}
		override = strings.TrimSpace(override)
		if blocks := caution.Blocks(p.PlanBody.Plan.Cautions); len(blocks) > 0 && override == "" {
			return "", caution.Problems{{Path: "override", Text: blocks[0].Text() + " To start all the same, write why."}}
		}
		if err := stillTheSame(c, p); err != nil {
			return "", err
		}
		number, err := c.NextLotNumber()
		if err != nil {
			return "", err
		}
		number = max(number, pl.Life().LastLot+1) // codes are printed on bars that no copy knows
		kind := ""
		life, err := catalog.LifeOf(c, p.Plan.Recipe, p.PlanBody.Revision)
		if err != nil {
			return "", err
		}
		if life != recipe.Tested || p.Trial {
			kind = lot.Trial
		}
		molds := p.MoldsOf(pot - 1)
		form, material := lot.FormIn(p.Request.Formula, molds)
		frozen, err := document.Encode(lot.Frozen{
			Program: journal.Version, Recipe: p.PlanBody.Recipe, Revision: p.PlanBody.Revision, Formula: p.Request.Formula,
			Pot: p.PlanBody.Plan.Pot(), Sheet: p.Sheet, Molds: molds, Policy: p.Policy, Notes: p.PlanBody.Notes, Request: p.Request, Scale: p.Scale,
			Unmold:    e.Window(About{p.Plan.Recipe, p.Request.Formula}, cure.Unmold(p.Request.Formula, form, material)),
			Overrides: override, Expected: p.BarsOf(pot - 1), Kind: kind, Stock: p.StockOID, FatStock: p.FatStockOID,
		})
		if err != nil {
			return "", err
		}
		entry, err := c.Entry("lot")
		if err != nil {
			return "", err
		}
		oid := journal.NewOID()
		if err := c.AddLot(entry, oid, number, lot.Code(number), planOID, p.Plan.Recipe, pot, frozen, lot.Making); err != nil {
			return "", err
		}
		for _, sec := range p.Sheet {
			for _, i := range sec.Items {
				if err := c.AddMaterial(oid, string(i.Key), i.Name); err != nil {
					return "", err
				}
			}
		}
		return oid, nil
	})
}
