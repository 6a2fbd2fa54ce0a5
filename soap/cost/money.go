// Package cost is what a lot, a bar and the stock on the shelf cost.
//
// A gram costs what its delivery cost, divided by what was delivered: three hundred euros for
// twenty-five kilos of olive oil is no round number of cents a gram, and is not rounded to one.
// Amounts stay exact fractions until they are shown, so that what was bought is what was used,
// wasted, sent back and left, to the cent. What nobody has a price for is "not known"; it is
// never counted as nothing.
package cost

import (
	"errors"
	"fmt"
	"math/big"
	"slices"
	"strings"

	"ashshelf/soap/unit"
)

// Money is an exact amount in minor units of a currency, such as cents. It may be a fraction of
// one. The zero value is nothing.
type Money struct{ r *big.Rat }

// Minor is a whole number of minor units.
func Minor(n int64) Money { return Money{new(big.Rat).SetInt64(n)} }

func (a Money) rat() *big.Rat {
	if a.r == nil {
		return new(big.Rat)
	}
	return a.r
}

// Plus adds.
func (a Money) Plus(b Money) Money { return Money{new(big.Rat).Add(a.rat(), b.rat())} }

// Minus takes away.
func (a Money) Minus(b Money) Money { return Money{new(big.Rat).Sub(a.rat(), b.rat())} }

// Of is the share of it that part is of whole; nothing of nothing.
func (a Money) Of(part, whole int64) Money {
	if whole == 0 {
		return Money{}
	}
	return Money{new(big.Rat).Mul(a.rat(), big.NewRat(part, whole))}
}

// Cmp compares: below zero when it is less than b.
func (a Money) Cmp(b Money) int { return a.rat().Cmp(b.rat()) }

// Sign is below zero, zero or above it as the amount is.
func (a Money) Sign() int { return a.rat().Sign() }

// Rounded is the amount in whole minor units, halves away from zero.
func (a Money) Rounded() int64 {
	twice := new(big.Int).Mul(a.rat().Num(), big.NewInt(2))
	den := a.rat().Denom()
	add := new(big.Int).Set(den)
	if a.Sign() < 0 {
		add.Neg(add)
	}
	return new(big.Int).Quo(twice.Add(twice, add), new(big.Int).Mul(den, big.NewInt(2))).Int64()
}

// Float is the amount in minor units, near enough to draw it.
func (a Money) Float() float64 {
	f, _ := a.rat().Float64()
	return f
}

// String writes the exact amount, such as "1234/5".
func (a Money) String() string { return a.rat().RatString() }

// ReadExact reads what [Money.String] wrote.
func ReadExact(text string) (Money, error) {
	r, ok := new(big.Rat).SetString(text)
	if !ok {
		return Money{}, fmt.Errorf("“%s” is no amount", text)
	}
	return Money{r}, nil
}

// Total adds amounts.
func Total(list []Money) (sum Money) {
	for _, one := range list {
		sum = sum.Plus(one)
	}
	return sum
}

// Shown rounds amounts so that they add up to their rounded sum: each is rounded down, and what
// is missing goes to those with the largest remainders, the earlier first.
func Shown(list []Money) []int64 {
	out := make([]int64, len(list))
	rest := make([]*big.Rat, len(list))
	missing := Total(list).Rounded()
	for i, one := range list {
		floor := new(big.Int).Div(one.rat().Num(), one.rat().Denom()) // euclidean: downwards
		out[i] = floor.Int64()
		rest[i] = new(big.Rat).Sub(one.rat(), new(big.Rat).SetInt(floor))
		missing -= out[i]
	}
	by := make([]int, len(list))
	for i := range by {
		by[i] = i
	}
	slices.SortStableFunc(by, func(a, b int) int { return rest[b].Cmp(rest[a]) })
	for _, i := range by[:max(0, min(int(missing), len(by)))] {
		out[i]++
	}
	return out
}

// Split divides a whole amount over weights, to the minor unit; evenly where no weight is known.
func Split(total int64, weights []int64) []int64 {
	var sum int64
	for _, w := range weights {
		sum += w
	}
	parts := make([]Money, len(weights))
	for i, w := range weights {
		if sum == 0 {
			parts[i] = Minor(total).Of(1, int64(len(weights)))
			continue
		}
		parts[i] = Minor(total).Of(w, sum)
	}
	return Shown(parts)
}

// Digits is how many digits a currency has after the point (ISO 4217).
func Digits(currency string) int {
	switch currency {
	case "BIF", "CLP", "DJF", "GNF", "ISK", "JPY", "KMF", "KRW", "PYG", "RWF", "UGX", "UYI", "VND", "VUV", "XAF", "XOF", "XPF":
		return 0
	case "BHD", "IQD", "JOD", "KWD", "LYD", "OMR", "TND":
		return 3
	}
	return 2
}

// Format writes whole minor units as people do: 1234 cents are "12.34".
func Format(minor int64, currency string) string {
	sign, digits := "", Digits(currency)
	if minor < 0 {
		sign, minor = "−", -minor
	}
	text := fmt.Sprintf("%0*d", digits+1, minor)
	if digits == 0 {
		return sign + text
	}
	return sign + text[:len(text)-digits] + "." + text[len(text)-digits:]
}

// errMoney says how an amount is typed.
var errMoney = errors.New("type an amount such as 38.50")

// most is the largest amount that is read, in minor units.
const most = 1e12

// ParseMoney reads an amount as it is typed, with the currency's code or sign before or after it
// or none, into minor units. It has no more digits after the point than the currency.
func ParseMoney(text, currency string) (int64, error) {
	plain := strings.TrimSpace(text)
	for _, sign := range []string{currency, strings.ToLower(currency), "€", "$", "£"} {
		plain = strings.TrimSpace(strings.TrimSuffix(strings.TrimPrefix(plain, sign), sign))
	}
	v, err := unit.Number(plain)
	if err != nil || v < 0 {
		return 0, errMoney
	}
	r, ok := new(big.Rat).SetString(fmt.Sprintf("%.6f", v))
	if !ok || v > most {
		return 0, errMoney
	}
	scale := int64(1)
	for range Digits(currency) {
		scale *= 10
	}
	r.Mul(r, big.NewRat(scale, 1))
	if !r.IsInt() {
		if Digits(currency) == 0 {
			return 0, fmt.Errorf("%s has no digits after the point", currency)
		}
		return 0, fmt.Errorf("%s has %d digits after the point", currency, Digits(currency))
	}
	return r.Num().Int64(), nil
}
