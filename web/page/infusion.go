package page

import (
	"net/url"

	"ashshelf/soap/liquid"
	"ashshelf/soap/unit"
)

// InfusionAddress is where an infusion of a recipe is started, with its amounts written in.
func InfusionAddress(oil string, i liquid.Infusion, st liquid.Steep, sys unit.System) string {
	q := url.Values{"fat": {oil}, "herb": {i.Herb}, "oil": {unit.FieldMass(st.Start, sys)}, "herb_g": {unit.FieldMass(st.Herb, sys)},
		"hours": {unit.Trim(i.Hours, 1)}}
	if !i.Standing {
		q.Set("warm", "on")
	}
	return "/infusions?" + q.Encode()
}
