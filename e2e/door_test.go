package e2e_test

import (
	"crypto/tls"
	"net"
	"net/http"
	"os"
	"os/exec"
	"strings"
	"testing"
	"time"

	"github.com/chromedp/cdproto/security"
	"github.com/chromedp/chromedp"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"ashshelf/e2e/browser"
)

// onTheNetwork runs the demo shop with its door to the network.
func (u *user) onTheNetwork() {
	u.t.Helper()
	u.demoShop()
	_, port, err := net.SplitHostPort(u.addr)
	require.NoError(u.t, err)
	u.cmd = exec.Command(program, "demo", "-addr", "0.0.0.0:"+port, "-data", u.dir, "-now", morning.Format(time.RFC3339))
	u.cmd.Stderr = os.Stderr
	require.NoError(u.t, u.cmd.Start())
	u.answers("http://" + u.addr + "/who")
}

// answers waits until an address answers without leading elsewhere.
func (u *user) answers(address string) {
	u.t.Helper()
	// Whom to trust is tried where the certificates are; here it is about who comes in.
	client := &http.Client{Transport: &http.Transport{TLSClientConfig: &tls.Config{InsecureSkipVerify: true}}}
	require.Eventually(u.t, func() bool {
		r, err := client.Get(address)
		return err == nil && r.Body.Close() == nil && r.StatusCode == http.StatusOK
	}, 20*time.Second, 100*time.Millisecond, address)
}

// trusting is a browser that takes the certificate of the house.
func (u *user) trusting() *user {
	u.t.Helper()
	_, err := chromedp.Call(u.tab, security.SetIgnoreCertificateErrors, security.SetIgnoreCertificateErrorsParams{Ignore: true})
	require.NoError(u.t, err)
	u.base = "https://" + u.addr
	return u
}

// says types a secret, and presses.
func (u *user) says(field, secret, press string) {
	u.t.Helper()
	u.typeIn(field, secret)
	u.press(press)
}

const phrase = "quarry lamp, two herons"

// Two people come in at two devices over a line that nobody listens in on: the owner with a
// passphrase, a helper by an invitation with a PIN. The owner releases with her PIN; who
// guesses waits; who is signed out everywhere is out at both.
func TestTwoPeopleComeInAtTwoDevicesOverTheNetwork(t *testing.T) {
	t.Parallel()
	laptop := atBrowser(t, 1280, 800)
	laptop.onTheNetwork()
	laptop.open("/who")
	laptop.press("Odile Marrow")
	laptop.open("/settings")
	laptop.press("You")
	laptop.reads("main", "The shop waits for your passphrase")
	laptop.accessible("a shop that waits for a passphrase")
	laptop.typeIn("f-new_phrase", "too short")
	laptop.press("Keep this passphrase")
	laptop.reads("#f-new_phrase-err", "12 characters or more")
	laptop.typeIn("f-new_phrase", phrase)
	laptop.typeIn("f-new_phrase_again", phrase)
	laptop.press("Keep this passphrase")
	laptop.reads("h1", "opens itself to the network")
	laptop.answers("https://" + laptop.addr + "/who")
	laptop.trusting().open("/lots")
	laptop.reads("h1", "Who comes in?")
	laptop.accessible("the door")
	laptop.press("Come in")
	laptop.reads("main", "say who comes in")
	laptop.do("choose herself", chromedp.Click(`//label[contains(., "Odile")]`))
	laptop.says("f-secret", "quarry lamp, three herons", "Come in")
	laptop.reads("#f-secret-err", "not right")
	laptop.says("f-secret", phrase, "Come in")
	laptop.reads("h1", "Lots")

	laptop.open("/people")
	laptop.typeIn("f-person", "Wren Tallis")
	laptop.choose("f-role", "helper")
	laptop.press("Take on")
	laptop.press("Wren Tallis")
	laptop.press("Invite a device")
	laptop.reads("#f-sign-err", "type it")
	laptop.says("f-sign", phrase, "Invite a device")
	laptop.accessible("an invitation")
	invitation := eval[string](laptop, `document.querySelector("#invitation a").getAttribute("href")`)

	tablet := atAnother(laptop)
	tablet.open(invitation[strings.Index(invitation, "/enrol/"):])
	tablet.reads("h1", "Come in, Wren Tallis")
	tablet.accessible("an invitation at the tablet")
	tablet.typeIn("f-device", "tablet at the bench")
	tablet.typeIn("f-new_pin", "123456")
	tablet.typeIn("f-new_pin_again", "123456")
	tablet.press("Come in")
	tablet.reads("#f-new_pin-err", "first who guesses")
	tablet.typeIn("f-new_pin", "274913")
	tablet.typeIn("f-new_pin_again", "274913")
	tablet.press("Come in")
	tablet.reads(".who", "Wren Tallis at the bench")
	tablet.open("/recipes")
	tablet.reads("main", "You look on here")
	assert.Zero(t, eval[float64](tablet, `[...document.querySelectorAll("main a")].filter(a => a.textContent.includes("Write a new") && `+
		`a.checkVisibility()).length`))
	tablet.back()
	lot := tablet.lotOf("5-W")
	tablet.open(lot)
	tablet.reads("#release", "A maker or an owner releases it")
	assert.False(t, eval[bool](tablet, `document.querySelector("#release button").checkVisibility()`))
	tablet.open("/people")
	tablet.reads("h1", "Not for you to do")

	laptop.open("/you")
	laptop.typeIn("f-sign", phrase)
	laptop.typeIn("f-new_pin", "860135")
	laptop.typeIn("f-new_pin_again", "860135")
	laptop.press("Keep this PIN")
	laptop.reads("main", "You have one.")
	laptop.open(lot)
	laptop.do("sure", chromedp.Click("#f-sure"))
	laptop.says("f-sign-release", "860136", "Release")
	laptop.reads("#f-sign-release-err", "not right")
	laptop.accessible("a release that takes a PIN")
	laptop.says("f-sign-release", "860135", "Release")
	laptop.reads("main", "by Odile Marrow, PIN given")

	tablet.open("/who")
	tablet.press("Sign out")
	for range 4 {
		tablet.do("choose herself", chromedp.Click(`//label[contains(., "Wren")]`))
		tablet.says("f-secret", "999000", "Come in")
		tablet.reads("#f-secret-err", "not right")
	}
	tablet.do("choose herself", chromedp.Click(`//label[contains(., "Wren")]`))
	tablet.says("f-secret", "274913", "Come in")
	tablet.reads("#f-secret-err", "wait 2 seconds")
	time.Sleep(2 * time.Second)
	tablet.do("choose another", chromedp.Click(`//label[contains(., "Odile")]`))
	tablet.says("f-secret", "860135", "Come in")
	tablet.reads(".who", "Odile Marrow at the bench")

	laptop.open("/people/log")
	laptop.reads("main", "refused: too many wrong tries")
	laptop.reads("main", "tablet at the bench, 127.0.0.1")
	laptop.accessible("the log of the door")
	laptop.open("/you")
	assert.InDelta(t, 1, eval[float64](laptop, `(() => {
		const form = document.querySelector("form[data-once]");
		let sent = 0;
		form.addEventListener("submit", (event) => { sent++; event.preventDefault(); });
		form.requestSubmit();
		form.requestSubmit();
		return sent;
	})()`), 0, "two presses send a secret once")
	laptop.open("/you")
	laptop.says("f-sign", phrase, "Sign me out everywhere")
	laptop.reads("h1", "Who comes in?")
	tablet.open("/lots")
	tablet.reads("h1", "Who comes in?")
	laptop.noErrors()
}

// atAnother is somebody at another device.
func atAnother(u *user) *user {
	u.t.Helper()
	tab, end, err := browser.Start(u.tab, 820, 1180)
	require.NoError(u.t, err)
	u.t.Cleanup(end)
	other := &user{t: u.t, tab: tab, dir: u.dir, addr: u.addr}
	return other.trusting()
}

// lotOf is the address of a lot by its code.
func (u *user) lotOf(code string) string {
	u.t.Helper()
	u.open("/lots")
	return eval[string](u, `[...document.querySelectorAll("a.code")].find(a => a.textContent.trim() === "`+code+`").getAttribute("href")`)
}
