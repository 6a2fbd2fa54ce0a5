package web

import (
	"net/url"

	"ashshelf/soap/inventory"
	"ashshelf/soap/lot"
	"ashshelf/soap/role"
	"ashshelf/web/door"
)

// rules says of every address who may use it. What is not in it is for owners alone, and fails
// a test.
var rules = func() door.Rules {
	table := door.Rules{}
	for least, addresses := range map[role.Role][]string{
		door.Anyone: {
			"GET /manifest.webmanifest", "GET /sw.js", "GET /look", "GET /due", "GET /trust", "GET /house.crt",
			"GET /who", "POST /who", "POST /out", "GET /enrol/{code}", "POST /enrol/{code}",
			"GET /welcome", "POST /welcome", "POST /welcome/demo", "GET /welcome/restore", "POST /welcome/restore",
			"GET /calendar/{secret:[a-z0-9]{26}}.ics", // whoever knows the secret in it
		},
		role.Helper: {
			"GET /", "GET /settings", "GET /you", "GET /find", "GET /guide", "GET /guide/{page}",
			"GET /recipes", "GET /recipes/{oid}", "GET /recipes/{oid}/learned", "GET /recipes/{oid}/revisions/{number}", "GET /recipes/{oid}/card",
			"GET /recipes/{oid}/compare", "GET /recipes/{oid}/label",
			"GET /molds", "GET /molds/{oid}", "GET /equipment", "GET /equipment/{oid}",
			"GET /stores", "GET /stores/of", "GET /stores/table", "GET /stores/receive", "GET /stores/deliveries/{oid}",
			"GET /stores/opening", "POST /stores/why",
			"GET /materials", "GET /materials/{oid}",
			"GET /infusions", "POST /infusions", "POST /infusions/{oid}", "GET /scents", "GET /scents/{oid}",
			"GET /plan", "GET /plan/day/{date}", "GET /plan/day/{date}/hours",
			"GET /plans/{oid}/gel", "GET /plans/{oid}", "GET /plans/{oid}/sheet.csv", "GET /plans/{oid}/plan.json",
			"GET /lye", "GET /lye/{oid}", "GET /lye/{oid}/label", "GET /lye/new", "GET /lye/fats", "GET /lye/heat",
			"POST /lye/{oid}/draw", "POST /lye/{oid}/count", "POST /lye/{oid}/read",
			"GET /rehearsal", "POST /plans/{oid}/rehearse",
			"GET /make", "GET /make/next", "GET /make/{oid}", "GET /make/{oid}/live", "GET /make/{oid}/paper", "GET /photos/{file}",
			"POST /bench/scale/tare", "POST /bench/{kind}/tell",
			"GET /lots", "GET /lots/{oid}", "GET /lots/{oid}/tag", "GET /lots/{oid}/label",
			"GET /lots/{oid}/record", "GET /lots/{oid}/record.csv", "GET /lots/{oid}/record.json",
			"GET /lots/{oid}/trouble", "GET /lots/{oid}/trouble/{kind}", "POST /lots/{oid}/typed/{act}",
			"GET /products", "GET /products/{oid}", "GET /products/{oid}/bars", "GET /products/{oid}/labels", "GET /labels", "GET /labels/{oid}",
			"GET /sheets", "GET /sheets/{oid}", "GET /allergens", "GET /assessments/{oid}", "GET /trace", "GET /recalls", "GET /recalls/{oid}",
			"GET /complaints", "POST /complaints", "POST /products/{oid}/{act}",
			"GET /markets", "GET /markets/{oid}", "GET /markets/{oid}/pack", "POST /markets/{oid}/pack", "GET /markets/{oid}/stall",
			"POST /markets/{oid}/till", "GET /orders", "GET /orders/{oid}", "GET /orders/{oid}/box", "POST /orders/{oid}/box",
			"GET /racks", "GET /calendar", "GET /calendar/{month}",
			"POST /care", "POST /places", "GET /weigh", "POST /weigh", "POST /weigh/typed",
		},
		role.Maker: {
			"POST /settings", "POST /clock", "POST /restored",
			"GET /recipes/new", "GET /recipes/new/{token}", "POST /recipes/new/{token}", "POST /recipes/new/{token}/live",
			"GET /recipes/{oid}/blends", "POST /recipes/{oid}/blends", "POST /recipes/{oid}", "POST /recipes/{oid}/live", "POST /recipes/{oid}/life",
			"GET /recipes/book.json", "GET /recipes/{oid}/recipe.json", "GET /recipes/{oid}/blend.csv",
			"GET /recipes/import", "POST /recipes/import", "GET /recipes/check", "POST /recipes/check",
			"GET /molds/new", "GET /molds/new/{token}", "POST /molds/new/{token}", "POST /molds/new/{token}/live",
			"POST /molds/{oid}", "POST /molds/{oid}/live", "POST /molds/{oid}/forget", "POST /plan/day/{date}/hours",
			"GET /equipment/new", "GET /equipment/new/{token}", "POST /equipment/new/{token}", "POST /equipment/new/{token}/live",
			"POST /equipment/{oid}", "POST /equipment/{oid}/live",
			"GET /scents/new", "GET /scents/new/{token}", "POST /scents/new/{token}", "POST /scents/new/{token}/live",
			"POST /scents/{oid}", "POST /scents/{oid}/live", "POST /stores/spoons",
			"GET /materials/new", "GET /materials/new/{token}", "POST /materials/new/{token}", "POST /materials/new/{token}/live",
			"POST /materials/{oid}", "POST /materials/{oid}/live", "POST /stores/names", "POST /stores/receive", "POST /stores/orders",
			"POST /stores/orders/{oid}", "POST /stores/orders/{oid}/close", "POST /stores/deliveries/{oid}/{act}",
			"GET /stores/shopping", "GET /stores/shopping.csv", "GET /stores/orders", "GET /stores/orders/{oid}",
			"GET /stores/prices", "GET /stores/value", "GET /stores/value.csv", "POST /stores/opening", "POST /stores/opening/file",
			"POST /stores/opening/{oid}/{act}", "GET /stores/stores.json", "GET /stores/materials.csv", "GET /stores/deliveries.csv",
			"GET /stores/moves.csv",
			"GET /products/new", "GET /products/new/{token}", "POST /products/new/{token}", "POST /products/new/{token}/live",
			"POST /products/{oid}", "POST /products/{oid}/live", "POST /products/{oid}/photo", "GET /products/{oid}/file", "POST /labels",
			"GET /sheets/new", "GET /sheets/new/{token}", "POST /sheets/new/{token}", "POST /sheets/new/{token}/live", "POST /sheets/{oid}",
			"POST /sheets/{oid}/live", "POST /allergens", "POST /assessments/{oid}", "POST /recalls", "POST /recalls/{oid}/{act}",
			"GET /markets/new", "GET /markets/new/{token}", "POST /markets/new/{token}", "POST /markets/new/{token}/live",
			"POST /markets/{oid}", "POST /markets/{oid}/live", "GET /markets/{oid}/home", "POST /markets/{oid}/home",
			"GET /orders/new", "GET /orders/new/{token}", "POST /orders/new/{token}", "POST /orders/new/{token}/live",
			"POST /orders/{oid}", "POST /orders/{oid}/live", "POST /orders/{oid}/send", "POST /orders/{oid}/tell", "GET /papers/{oid}",
			"GET /buyers", "POST /buyers/{key}/name", "POST /buyers/{key}/blank", "GET /sold", "GET /sold/takings.csv",
			"GET /selling", "POST /selling", "GET /ahead", "POST /ahead", "GET /ahead/for/{date}",
			"GET /recalls/{oid}/letter", "GET /recalls/{oid}/bars.csv", "POST /complaints/{oid}",
			"POST /plan", "POST /plan/live", "POST /plan/day/{date}", "POST /plans/{oid}", "POST /plans/{oid}/day", "POST /plans/{oid}/away",
			"POST /lye/new", "POST /lye/new/live", "POST /lye/fats", "POST /lye/fats/live", "POST /lye/heat", "POST /lye/heat/live",
			"POST /lye/{oid}/{act}", "POST /racks", "POST /racks/apart", "POST /racks/{oid}",
			"POST /lots/{oid}/{act}",
		},
		role.Owner: {
			"GET /people", "POST /people", "GET /people/log", "GET /people/{id}", "POST /devices/{id}/remove",
			"POST /calendar/feed",
			"GET /copies", "POST /copies", "POST /copies/now", "GET /copies/shop.zip", "GET /copies/shop.json", "GET /copies/book",
		},
	} {
		for _, address := range addresses {
			table[address] = door.Rule{Least: least}
		}
	}
	for _, act := range handsOn {
		table["POST /lots/{oid}/"+act] = door.Rule{Least: role.Helper}
	}
	for _, act := range []string{"count", "leave", "open", "mark"} { // what is done with the hands
		table["POST /stores/deliveries/{oid}/"+act] = door.Rule{Least: role.Helper}
	}
	recalls := func(f url.Values) bool { return f.Get("status") == string(inventory.Recalled) }
	table["POST /stores/deliveries/{oid}/status"] = door.Rule{Least: role.Maker, Signs: recalls}
	table["POST /stores/opening/{oid}/release"] = door.Rule{Least: role.Maker, Signs: door.Always}
	forReal := func(f url.Values) bool { return f.Get("how") != "drill" }
	table["POST /recalls"] = door.Rule{Least: role.Maker, Signs: forReal}
	calledBack := func(f url.Values) bool { return f.Get("mark") == lot.Recalled }
	table["POST /lots/{oid}/release"] = door.Rule{Least: role.Maker, Signs: door.Always}
	table["POST /lots/{oid}/lift"] = door.Rule{Least: role.Maker, Signs: door.Always}
	table["POST /lots/{oid}/mark"] = door.Rule{Least: role.Maker, Signs: calledBack}
	table["POST /people/{id}/{act}"] = door.Rule{Least: role.Owner, Signs: door.Always}
	table["POST /you/{act}"] = door.Rule{Least: role.Helper, Signs: door.Always}
	return table
}()

// handsOn is what is done to a lot with the hands, and told of at once; what is judged, put
// right afterwards or given up is a maker's.
var handsOn = []string{
	"weigh", "back", "tick", "temp", "rescale", "extra", "takeover", "pour", "photo",
	"trouble", "way", "outcome", "rescue", "carry", "hold",
	"unmold", "cut", "sample", "move", "note", "next", "care", "place", "wash", "kept", "reshape",
}
