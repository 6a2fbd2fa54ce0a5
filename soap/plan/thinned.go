package plan

import "ashshelf/soap/recipe"

// Thinned is how the paste of a pot is thinned to liquid soap; nil where the recipe does not say.
func Thinned(f recipe.Formula, pot Plan) *recipe.Thinned {
	if f.Dilution == nil {
		return nil
	}
	t, _ := f.Thin(pot.amounts(), *f.Dilution) // that it can be thinned so was checked with the recipe
	return &t
}
