package web

import (
	"context"
	"path/filepath"

	"ashshelf/device"
	"ashshelf/device/sim"
	"ashshelf/shop"
	"ashshelf/shop/journal"
	"ashshelf/soap/rehearse"
	"ashshelf/store"
	"ashshelf/web/page"
)

// seedOfHands makes the simulated devices of a rehearsal shake alike each time.
const seedOfHands = 7

// rehearse opens a copy of the shop beside it, with a pot of a plan started, stand-ins on its bench and
// slips to come. Nothing of it is a record of this shop.
func (s *Server) rehearse(ctx context.Context, act journal.Act, plan string) (token, lot string, err error) {
	token, err = s.OpenBeside(ctx, page.Rehearsal, func(ctx context.Context, dir string) (out Opened, err error) {
		if err := store.Snapshot(ctx, s.Shop.Dir(), filepath.Join(dir, store.File)); err != nil {
			return out, err
		}
		// The copy begins a life of its own: what another window still sends of the real shop is refused
		// here, and what a window of the rehearsal sends later is refused there.
		if out.Shop, err = shop.Open(ctx, dir, s.Shop.Clock); err != nil {
			return out, err
		}
		act.Key = "" // it is of the real shop's life
		p, err := out.Shop.Plan(ctx, plan)
		if err == nil {
			lot, err = out.Shop.StartLot(ctx, act, plan, p.NextPot(), "a rehearsal")
		}
		if err != nil {
			return out, err
		}
		l, err := out.Shop.Lot(ctx, lot)
		if err != nil {
			return out, err
		}
		out.Rehearsed = &page.Rehearsed{Lot: lot, Who: act.Person, Scenes: rehearse.Scenes(l.Order())}
		out.Devices = device.NewSet(ctx, s.Log)
		out.Devices.Place(device.Scale, sim.NewScale(seedOfHands))
		out.Devices.Place(device.Probe, sim.NewProbe(seedOfHands))
		return out, nil
	})
	return token, lot, err
}
