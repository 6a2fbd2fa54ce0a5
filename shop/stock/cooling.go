package stock

import (
	"context"
	"math"

	"ashshelf/shop/journal"
	"ashshelf/soap/caution"
	"ashshelf/soap/lye"
	"ashshelf/store"
)

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
func (k *Keeper) NoteCooling(ctx context.Context, act journal.Act, c store.Cooled) error {
	if !(c.Learned > 0) || math.IsInf(c.Learned, 0) || !(c.Usual > 0) {
		return caution.Problems{{Path: "readings", Text: "log at least two temperatures some minutes apart"}}
	}
	_, err := k.ByPerson(ctx, act, func(ch *journal.Change) (string, error) {
		entry, err := ch.Entry("cooling")
		if err != nil {
			return "", err
		}
		return "", ch.AddCooled(entry, c)
	})
	return err
}
