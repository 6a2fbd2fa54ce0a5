package web_test

import (
	"context"
	"database/sql"
	"net/http"
	"net/http/httptest"
	"net/url"
	"path/filepath"
	"strconv"
	"strings"
	"testing"

	"github.com/go-chi/chi/v5"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"ashshelf/access"
	"ashshelf/shop"
	"ashshelf/shop/journal"
	"ashshelf/soap/role"
	"ashshelf/store"
	"ashshelf/web"
	"ashshelf/web/door"
)

const (
	ownersPhrase = "quarry lamp, two herons"
	makersPhrase = "slow barge under ivy"
	helpersPIN   = "274913"
)

// shutShop is the demo shop open to a network: its owner and its maker have passphrases, and a
// helper is invited.
type shutShop struct {
	t     *testing.T
	base  string
	shop  *shop.Shop
	pages *web.Server

	helper int64
	code   string // of the helper's invitation
}

var bg = context.Background()

// actOf is an act of somebody at a computer.
func actOf(person int64) journal.Act {
	return journal.Act{Person: person, Device: "bench", DeviceLabel: "computer"}
}

func shut(t *testing.T) *shutShop {
	t.Helper()
	s := &shutShop{t: t, shop: demoShop(t)}
	s.pages = pagesOf(t, s.shop, nil)
	s.pages.Door.Shuts(false)
	handler := s.pages.Handler()
	server := httptest.NewServer(http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		r.RemoteAddr = r.Header.Get("Test-From")
		handler.ServeHTTP(w, r)
	}))
	t.Cleanup(server.Close)
	s.base = server.URL
	require.NoError(t, s.shop.AddPerson(bg, actOf(1), "Wren Tallis", role.Helper))
	settings, err := s.shop.Settings(bg)
	require.NoError(t, err)
	for _, p := range settings.Working() {
		switch p.Role {
		case role.Owner:
			require.NoError(t, s.pages.Door.SetPassphrase(bg, p.ID, ownersPhrase))
		case role.Maker:
			require.NoError(t, s.pages.Door.SetPassphrase(bg, p.ID, makersPhrase))
		case role.Helper:
			s.helper = p.ID
		}
	}
	s.code, _, err = s.pages.Door.Invite(bg, s.helper)
	require.NoError(t, err)
	return s
}

// from has a browser be at an address of the network.
type from struct{ address string }

func (f from) RoundTrip(r *http.Request) (*http.Response, error) {
	r.Header.Set("Test-From", f.address)
	return http.DefaultTransport.RoundTrip(r)
}

// at is a browser somewhere in the network.
func (s *shutShop) at(address string) *visitor {
	return &visitor{s.t, s.base, &http.Client{Jar: jar(s.t), Transport: from{address + ":5000"}}, nil, s.pages}
}

// signsIn is somebody who is in, at a device that is not the shop's.
func (s *shutShop) signsIn(address, name, phrase string) *visitor {
	s.t.Helper()
	v := s.at(address)
	status, page := v.post("/who", url.Values{"name": {name}, "secret": {phrase}})
	require.Equal(s.t, http.StatusOK, status)
	has(s.t, page, name+"</strong> at the bench")
	return v
}

// enrols is the helper with a tablet of the shop.
func (s *shutShop) enrols(address string) *visitor {
	s.t.Helper()
	v := s.at(address)
	status, page := v.post("/enrol/"+s.code, url.Values{
		"device": {"tablet at the bench"}, "new_pin": {helpersPIN}, "new_pin_again": {helpersPIN},
	})
	require.Equal(s.t, http.StatusOK, status)
	has(s.t, page, "Wren Tallis</strong> at the bench")
	return v
}

// addresses are all of a shop whose door is shut, but for what needs none to come in.
func (s *shutShop) addresses() (out [][2]string) {
	router, ok := s.pages.Handler().(chi.Routes)
	require.True(s.t, ok)
	require.NoError(s.t, chi.Walk(router, func(method, route string, _ http.Handler, _ ...func(http.Handler) http.Handler) error {
		if route != "/static/*" {
			out = append(out, [2]string{method, route})
		}
		return nil
	}))
	return out
}

func TestEveryAddressHasARuleAndEveryRuleAnAddress(t *testing.T) {
	t.Parallel()
	pages := pagesOf(t, demoShop(t), nil)
	left := map[string]bool{}
	for address := range pages.Rules {
		left[address] = true
	}
	router, ok := pages.Handler().(chi.Routes)
	require.True(t, ok)
	require.NoError(t, chi.Walk(router, func(method, route string, _ http.Handler, _ ...func(http.Handler) http.Handler) error {
		if route == "/static/*" {
			return nil
		}
		assert.Contains(t, pages.Rules, method+" "+route, "an address needs a rule: web/roles.go")
		delete(left, method+" "+route)
		return nil
	}))
	for address := range left {
		at := strings.LastIndex(address, "/")
		assert.Contains(t, pages.Rules, address[:at]+"/{act}", "%s is the rule of no address", address)
	}
	rule := pages.Rules.Of(http.MethodGet, "/nowhere", "")
	assert.Equal(t, role.Owner, rule.Least, "what is forgotten is for owners")
}

// Each address, asked for by nobody and by somebody of each role: who may is let through to the
// page, to whatever it says of an address that names nothing; who may not is told so.
func TestEachRoleGetsWhatIsItsOwnAndNothingElse(t *testing.T) {
	t.Parallel()
	s := shut(t)
	visitors := map[role.Role]*visitor{
		"":          s.at("10.0.0.1"),
		role.Owner:  s.signsIn("10.0.0.2", "Odile Marrow", ownersPhrase),
		role.Maker:  s.signsIn("10.0.0.3", "Bastian Thrupp", makersPhrase),
		role.Helper: s.enrols("10.0.0.4"),
	}
	params := strings.NewReplacer("{oid}", "nothing", "{act}", "nothing", "{kind}", "nothing", "{file}", "nothing", "{token}", "nothing",
		"{id}", "0", "{number}", "1", "{date}", "2026-03-14", "{month}", "2026-03", "{code}", "nothing",
		"{secret:[a-z0-9]{26}}", strings.Repeat("a", 26))
	asked := 0
	for _, a := range s.addresses() {
		method, route := a[0], a[1]
		if route == "/out" || route == "/lots/{oid}/typed/{act}" {
			continue // ends the session; draws no line
		}
		for who, v := range visitors {
			asked++
			v.http.CheckRedirect = func(*http.Request, []*http.Request) error { return http.ErrUseLastResponse }
			r, err := http.NewRequest(method, s.base+params.Replace(route), nil)
			require.NoError(t, err)
			answer, err := v.http.Do(r)
			require.NoError(t, err)
			require.NoError(t, answer.Body.Close())
			least := s.pages.Rules.Of(method, route, "nothing").Least
			in := answer.StatusCode != http.StatusForbidden && answer.StatusCode != http.StatusUnauthorized &&
				!strings.HasPrefix(answer.Header.Get("Location"), "/who")
			what := method + " " + route + " by " + string(who)
			switch {
			case least == door.Anyone:
				assert.NotEqual(t, http.StatusForbidden, answer.StatusCode, what)
			case who == "":
				assert.False(t, in, what)
			default:
				assert.Equal(t, who.May(least), in, "%s: %d", what, answer.StatusCode)
			}
		}
	}
	assert.Greater(t, asked, 400)
	events, err := s.pages.Door.Events(bg, 1000)
	require.NoError(t, err)
	turnedAway := 0
	for _, e := range events {
		if e.Kind == access.NotAllowed && e.Person == s.helper {
			turnedAway++
		}
	}
	assert.Greater(t, turnedAway, 30, "the log tells of what was refused")
}

func TestNothingOfTheShopIsToldToStrangers(t *testing.T) {
	t.Parallel()
	s := shut(t)
	v := s.at("10.0.0.9")
	for _, path := range []string{"/", "/who", "/look", "/lots", "/due", "/enrol/nothing", "/photos/x", "/people", "/recipes/book.json"} {
		_, page := v.get(path)
		for _, secret := range []string{"Odile", "Bastian", "Wren", "Slow olive", "5-W", "11-S", "12-W", `title="`} {
			assert.NotContains(t, page, secret, path)
		}
	}
	// Whether there is somebody of a name is not told either.
	_, one := v.post("/who", url.Values{"name": {"Odile Marrow"}, "secret": {"wrong wrong wrong"}})
	_, none := v.post("/who", url.Values{"name": {"Nobody At All"}, "secret": {"wrong wrong wrong"}})
	assert.Equal(t, strings.ReplaceAll(one, "Odile Marrow", ""), strings.ReplaceAll(none, "Nobody At All", ""))
	assert.NotContains(t, one, "wrong wrong wrong", "a secret is never shown again")
}

func TestWhoGuessesIsTurnedAwayAndThenWaits(t *testing.T) {
	t.Parallel()
	s := shut(t)
	v := s.at("10.0.0.9")
	said := func(form url.Values) string {
		status, page := v.post("/who", form)
		require.Equal(t, http.StatusUnprocessableEntity, status)
		text, ok := read(t, page).Beside("secret")
		require.True(t, ok)
		return text
	}
	assert.Contains(t, said(url.Values{"name": {"Odile Marrow"}, "secret": {""}}), "type it")
	assert.Contains(t, said(url.Values{"name": {"Odile Marrow"}, "secret": {"123456"}}), "type your passphrase")
	for range 3 {
		assert.Contains(t, said(url.Values{"name": {"Odile Marrow"}, "secret": {"wrong wrong wrong"}}), "not right")
	}
	assert.Contains(t, said(url.Values{"name": {"Odile Marrow"}, "secret": {ownersPhrase}}), "wait", "now the right one waits, too")
	status, page := v.post("/who", url.Values{"secret": {ownersPhrase}})
	assert.Equal(t, http.StatusUnprocessableEntity, status)
	has(t, page, "say who comes in")
}

// A session has a new name each time, and ends with its device, with a new secret, when it is
// ended everywhere, and when it rests.
func TestSessionsEnd(t *testing.T) {
	t.Parallel()
	s := shut(t)
	owner := s.signsIn("10.0.0.2", "Odile Marrow", ownersPhrase)
	in := func(v *visitor) bool {
		r, err := v.http.Get(v.base + "/lots")
		require.NoError(t, err)
		require.NoError(t, r.Body.Close())
		return r.Request.URL.Path == "/lots"
	}
	cookie := func(v *visitor) string {
		base, err := url.Parse(v.base)
		require.NoError(t, err)
		for _, c := range v.http.Jar.Cookies(base) {
			if c.Name == "session" {
				return c.Value
			}
		}
		return ""
	}
	maker := s.signsIn("10.0.0.3", "Bastian Thrupp", makersPhrase)
	before := cookie(maker)
	stolen := s.at("10.0.0.66")
	base, err := url.Parse(s.base)
	require.NoError(t, err)
	stolen.http.Jar.SetCookies(base, []*http.Cookie{{Name: "session", Value: before}})
	require.True(t, in(stolen), "a cookie is what it is")
	maker.post("/who", url.Values{"name": {"Bastian Thrupp"}, "secret": {makersPhrase}})
	assert.NotEqual(t, before, cookie(maker))
	assert.False(t, in(stolen), "the name before is good no more")

	require.True(t, in(maker))
	status, page := owner.get("/people/2")
	require.Equal(t, http.StatusOK, status)
	f := filled(t, page, "/people/2/role")
	status, page = owner.post("/people/2/out", f)
	assert.Equal(t, http.StatusUnprocessableEntity, status, "the owner shows that it is she")
	f.Set("secret", ownersPhrase)
	status, _ = owner.post("/people/2/out", f)
	require.Equal(t, http.StatusOK, status, page)
	assert.False(t, in(maker))

	tablet := s.enrols("10.0.0.4")
	require.True(t, in(tablet))
	devices, err := s.pages.Door.Devices(bg)
	require.NoError(t, err)
	require.Len(t, devices, 1)
	_, page = owner.get("/people")
	remove := "/devices/" + strconv.FormatInt(devices[0].ID, 10) + "/remove"
	status, _ = owner.post(remove, filled(t, page, remove))
	require.Equal(t, http.StatusOK, status)
	assert.False(t, in(tablet), "its device was taken off")
	status, page = tablet.post("/who", url.Values{"name": {"Wren Tallis"}, "secret": {helpersPIN}})
	assert.Equal(t, http.StatusUnprocessableEntity, status)
	has(t, page, "a PIN counts at devices that are enrolled")

	other := s.signsIn("10.0.0.5", "Odile Marrow", ownersPhrase)
	_, page = owner.get("/you")
	f = filled(t, page, "/you/pin")
	f.Set("secret", ownersPhrase)
	f.Set("new_phrase", "three kettles, no moon")
	f.Set("new_phrase_again", "three kettles, no moon")
	status, page = owner.post("/you/passphrase", f)
	require.Equal(t, http.StatusOK, status, page)
	assert.False(t, in(other), "a new passphrase signs out everywhere else")
	assert.True(t, in(owner))
	owner.post("/out", nil)
	assert.False(t, in(owner))
	assert.Empty(t, cookie(owner))

	maker = s.signsIn("10.0.0.3", "Bastian Thrupp", makersPhrase)
	require.NoError(t, s.shop.SetActive(bg, actOf(1), 2, false))
	assert.False(t, in(maker), "who has left is out")
}

// Looking at pages writes nothing about who looked.
func TestALookWritesNothing(t *testing.T) {
	t.Parallel()
	s := shut(t)
	v := s.signsIn("10.0.0.2", "Odile Marrow", ownersPhrase)
	db, err := sql.Open("sqlite", "file:"+filepath.Join(s.shop.Dir(), access.Folder, "access.db"))
	require.NoError(t, err)
	defer db.Close()
	db.SetMaxOpenConns(1)
	version := func() (n int64) { // grows when another connection writes
		require.NoError(t, db.QueryRow(`PRAGMA data_version`).Scan(&n))
		return n
	}
	before := version()
	for range 5 {
		for _, path := range []string{"/", "/lots", "/people", "/you", "/who"} {
			status, _ := v.get(path)
			require.Equal(t, http.StatusOK, status)
		}
	}
	assert.Equal(t, before, version())
	require.NoError(t, s.pages.Door.EndSessions(bg, 9))
	assert.NotEqual(t, before, version(), "a write is seen")
}

func TestAnInvitationIsShownToOneDevice(t *testing.T) {
	t.Parallel()
	s := shut(t)
	owner := s.signsIn("10.0.0.2", "Odile Marrow", ownersPhrase)
	_, page := owner.get("/people/" + strconv.FormatInt(s.helper, 10))
	f := filled(t, page, "/people/"+strconv.FormatInt(s.helper, 10)+"/role")
	f.Set("secret", ownersPhrase)
	status, page := owner.post("/people/"+strconv.FormatInt(s.helper, 10)+"/invite", f)
	require.Equal(t, http.StatusOK, status)
	s.code = first(t, page, `/enrol/([a-z0-9]{26})"`)
	tablet := s.at("10.0.0.4")
	for range 2 {
		status, page = tablet.get("/enrol/" + s.code)
		require.Equal(t, http.StatusOK, status, "a look does not use it up")
		has(t, page, "Come in, Wren Tallis")
	}
	path := "/enrol/" + s.code
	for field, wrong := range map[string]url.Values{
		"device":        {"new_pin": {helpersPIN}, "new_pin_again": {helpersPIN}},
		"new_pin":       {"device": {"tablet"}, "new_pin": {"123456"}, "new_pin_again": {"123456"}},
		"new_pin_again": {"device": {"tablet"}, "new_pin": {helpersPIN}, "new_pin_again": {"274914"}},
	} {
		status, page = tablet.post(path, wrong)
		assert.Equal(t, http.StatusUnprocessableEntity, status, field)
		said, ok := read(t, page).Beside(field)
		assert.True(t, ok, field)
		assert.NotEmpty(t, said, field)
		assert.NotContains(t, page, helpersPIN)
	}
	tablet = s.enrols("10.0.0.4")
	status, page = tablet.post(path, url.Values{"device": {"tablet"}, "new_pin": {helpersPIN}, "new_pin_again": {helpersPIN}})
	require.Equal(t, http.StatusOK, status, "a second press finds the device in")
	has(t, page, "Wren Tallis</strong> at the bench")
	status, page = s.at("10.0.0.5").get(path)
	assert.Equal(t, http.StatusGone, status)
	has(t, page, "This invitation is over")

	// At the tablet the other people come in by their PINs, chosen from the list.
	require.NoError(t, s.pages.Door.SetPIN(bg, 2, "860135"))
	status, page = tablet.post("/who", url.Values{"person": {"2"}, "secret": {"860135"}})
	require.Equal(t, http.StatusOK, status)
	has(t, page, "Bastian Thrupp</strong> at the bench")
	_, log := owner.get("/people/log")
	for _, told := range []string{"device enrolled", "tablet at the bench, 10.0.0.4", "refused: invitation used or over"} {
		has(t, log, told)
	}
}

// Where somebody's word counts she shows that it is she, and the record says so; nobody's
// secret is kept in what was typed.
func TestAReleaseTakesThePINOfWhoGivesHerWord(t *testing.T) {
	t.Parallel()
	v := visit(t)
	ready := releasable(t, v)
	require.NoError(t, v.kit.Door.SetPIN(bg, 1, helpersPIN))
	v.kit.Shop.Touch()
	_, page := v.get(ready)
	f := filled(t, page, ready+"/release")
	f.Set("sure", "on")
	f.Set("early", "a customer waits")
	for secret, says := range map[string]string{"": "type it", "999111": "not right"} {
		f.Set("secret", secret)
		status, page := v.post(ready+"/release", f)
		require.Equal(t, http.StatusUnprocessableEntity, status)
		said, ok := read(t, page).Beside("sign-release")
		require.True(t, ok)
		assert.Contains(t, said, says)
		if secret != "" {
			assert.NotContains(t, page, secret)
		}
	}
	f.Set("secret", helpersPIN)
	v.post(ready+"/typed/note", url.Values{"text": {"half a word"}, "secret": {helpersPIN}})
	status, page := v.post(ready+"/release", f)
	require.Equal(t, http.StatusOK, status)
	has(t, page, "by Odile Marrow, PIN given")
	status, page = v.get(ready + "/record")
	require.Equal(t, http.StatusOK, status)
	has(t, page, "Odile Marrow, PIN given")
	_, page = v.get(ready + "/record.json")
	has(t, page, "PIN given")
	drafts, err := v.kit.Shop.LotDrafts(bg, strings.TrimPrefix(ready, "/lots/"))
	require.NoError(t, err)
	for name, d := range drafts {
		assert.NotContains(t, d.Form, "secret", name)
	}

	// A lot that is called back, too; one that is only not for sale not.
	_, page = v.get(ready)
	has(t, page, "half a word", "what was typed is kept")
	f = filled(t, page, ready+"/mark")
	for mark, want := range map[string]int{"recalled": http.StatusUnprocessableEntity, "not-for-sale": http.StatusOK} {
		f.Set("mark", mark)
		f.Set("mark_why", "smells of paint")
		f.Set("secret", "")
		status, _ = v.post(ready+"/mark", f)
		assert.Equal(t, want, status, mark)
	}
}

// releasable is a lot whose gate is open, or may be opened early.
func releasable(t *testing.T, v *visitor) string {
	t.Helper()
	lots, err := v.kit.Shop.Lots(bg, store.LotsWhere{})
	require.NoError(t, err)
	for _, l := range lots {
		if g := l.Gate(moment); l.Release == nil && (g.MayRelease || g.MayEarly) {
			return "/lots/" + l.OID
		}
	}
	require.Fail(t, "the demo has a lot that may be released")
	return ""
}

// A helper sees no button that she may not press, and a maker none that is the owner's.
func TestPagesOfferWhatARoleMayDo(t *testing.T) {
	t.Parallel()
	s := shut(t)
	helper, owner := s.enrols("10.0.0.4"), s.signsIn("10.0.0.2", "Odile Marrow", ownersPhrase)
	_, page := helper.get("/recipes")
	has(t, page, `<body class="as-helper">`)
	has(t, page, "You look on here")
	_, page = owner.get("/recipes")
	assert.NotContains(t, page, "You look on here")
	_, page = helper.get("/calendar")
	assert.NotContains(t, page, "In your own calendar", "the secret address is the owner's")
	_, page = owner.get("/calendar")
	has(t, page, "In your own calendar")
}

// A program in between would have everybody at its other end taken for somebody at this machine.
func TestAProxyInFrontOfAnOpenDoorIsRefused(t *testing.T) {
	t.Parallel()
	v := visit(t)
	for _, name := range []string{"X-Forwarded-For", "Forwarded", "X-Real-Ip"} {
		r, err := http.NewRequest(http.MethodGet, v.base+"/lots", nil)
		require.NoError(t, err)
		r.Header.Set(name, "10.0.0.9")
		status, page := v.read(v.http.Do(r))
		assert.Equal(t, http.StatusForbidden, status, name)
		assert.Contains(t, page, "-addr")
	}
}

func TestADeviceThatAsksTooMuchWaits(t *testing.T) {
	t.Parallel()
	s := shut(t)
	v := s.at("10.0.0.9")
	status := http.StatusOK
	for n := 0; n < 700 && status == http.StatusOK; n++ {
		status, _ = v.get("/look")
	}
	assert.Equal(t, http.StatusTooManyRequests, status)
	other, _ := s.at("10.0.0.8").get("/look")
	assert.Equal(t, http.StatusOK, other, "others go on")
}
