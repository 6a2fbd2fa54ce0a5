// Command shots takes the pictures in docs/screenshots from the demo shop at a
// fixed moment. Run it from the top of the repository:
//
//	go run ./e2e/shots
package main

import (
	"context"
	"errors"
	"flag"
	"fmt"
	"log/slog"
	"net/http/httptest"
	"os"
	"path/filepath"
	"strings"
	"time"

	"github.com/chromedp/cdproto/emulation"
	"github.com/chromedp/chromedp"

	"ashshelf/access"
	"ashshelf/demo"
	"ashshelf/device"
	"ashshelf/device/sim"
	"ashshelf/e2e/browser"
	"ashshelf/shop"
	"ashshelf/web"
)

// moment is when every picture is taken.
var moment = time.Date(2026, 3, 14, 10, 30, 0, 0, time.UTC)

type step = chromedp.Action[chromedp.Void]

// view is one picture: where it is taken and what is done first.
type view struct {
	name string
	path string
	do   []step
	dark bool
}

func first(selector string) step {
	return chromedp.Steps(chromedp.Click(selector), chromedp.Sleep(400*time.Millisecond))
}

func link(text string) step {
	return chromedp.Steps(
		chromedp.Click(fmt.Sprintf(`//main//a[contains(normalize-space(.), %q)]`, text)),
		chromedp.Sleep(400*time.Millisecond),
	)
}

var views = []view{
	{name: "shelf", path: "/"},
	{name: "recipes", path: "/recipes"},
	{name: "recipe-bench", path: "/recipes", do: []step{link("Ewe morning")}},
	{name: "stores", path: "/stores"},
	{name: "sell", path: "/products"},
	{name: "label", path: "/products", do: []step{link("Fig by lamplight"), link("Labels")}},
	{name: "drill", path: "/recalls", do: []step{link("Drill 1")}},
	{name: "sold", path: "/sold"},
	{name: "ahead", path: "/ahead"},
	{name: "molds", path: "/molds"},
	{name: "plan", path: "/plan", do: []step{
		chromedp.Evaluate[chromedp.Void](
			`(() => { const pick = (id, text) => { const s = document.querySelector(id); s.value = [...s.options].find(o => ` +
				`o.text.startsWith(text)).value; };
			pick("#f-recipe", "Quern base"); pick("#f-pot", "Small steel pot"); pick("#f-jug", "Blue"); ` +
				`document.querySelector("#f-label-grams").value = "115";
			for (const [name, n] of [["Long loaf", "3"], ["Birch slab", "1"]])
				[...document.querySelectorAll("tr")].find(row => row.querySelector("strong")?.textContent === name)` +
				`.querySelector("input[name^='count.']").value = n;
			document.querySelector("#f-recipe").dispatchEvent(new Event("input", {bubbles: true})); })()`,
		),
		chromedp.Sleep(900 * time.Millisecond)}},
	{name: "hours", path: "/plan/day/2026-03-15/hours"},
	{name: "lye", path: "/lye"},
	{name: "make", path: "/make", do: []step{first(`main a.btn-hand`), chromedp.Sleep(500 * time.Millisecond),
		chromedp.Evaluate[chromedp.Void](
			`fetch("/bench/scale/tell", {method: "POST", body: new URLSearchParams({command: "put 611.4"})})`,
		), chromedp.Sleep(1500 * time.Millisecond)}},
	{name: "lot-drying", path: "/lots", do: []step{link("7-F")}},
	{name: "gel", path: "/plan/day/2026-03-15", do: []step{link("Quern base"), link("Will it gel?")}},
	{name: "shelf-dark", path: "/", dark: true},
	{name: "copies", path: "/copies"},
	{name: "stall", path: "/markets", do: []step{link("Pack"), first(`main button.btn-main`), chromedp.Sleep(600 * time.Millisecond),
		link("At the stall"), first(`[data-product]`), first(`[data-product]`)}},
}

func main() {
	out := flag.String("out", "docs/screenshots", "`folder` for the pictures")
	only := flag.String("only", "", "take only these `views`, by name, separated by commas")
	width := flag.Int64("width", 1280, "of the window")
	height := flag.Int64("height", 800, "of the window; 0 takes the whole page")
	flag.Parse()
	if err := run(*out, *only, *width, *height); err != nil {
		fmt.Fprintln(os.Stderr, "shots:", err)
		os.Exit(1)
	}
}

func run(out, only string, width, height int64) (err error) {
	ctx, cancel := context.WithTimeout(context.Background(), 3*time.Minute)
	defer cancel()
	dir, err := os.MkdirTemp("", "ashshelf-shots-")
	if err != nil {
		return err
	}
	defer os.RemoveAll(dir)
	clock := &demo.Clock{}
	s, err := shop.Open(ctx, dir, clock.Now)
	if err != nil {
		return err
	}
	defer func() { err = errors.Join(err, s.Close()) }()
	if err := demo.Seed(ctx, s, clock, moment); err != nil {
		return err
	}
	bench := device.NewSet(ctx, slog.New(slog.DiscardHandler))
	bench.Place(device.Scale, sim.NewScale(1))
	bench.Place(device.Probe, sim.NewProbe(1))
	accounts, err := access.Open(ctx, dir, s.Life().ID, time.Now)
	if err != nil {
		return err
	}
	defer func() { err = errors.Join(err, accounts.Close()) }()
	pages, err := web.New(s, accounts, bench, slog.New(slog.DiscardHandler))
	if err != nil {
		return err
	}
	server := httptest.NewServer(pages.Handler())
	defer server.Close()
	tab, end, err := browser.Start(ctx, int(width), int(max(height, 800)))
	if err != nil {
		return err
	}
	defer end()
	if err := chromedp.Do(tab, chromedp.Navigate(server.URL+"/who"), first(`main button[name="person"]`)); err != nil {
		return fmt.Errorf("choose who is working: %w", err)
	}
	if err := os.MkdirAll(out, 0o755); err != nil {
		return err
	}
	for _, v := range views {
		if only != "" && !strings.Contains(","+only+",", ","+v.name+",") {
			continue
		}
		if err := take(tab, server.URL, v, out, width, height); err != nil {
			return fmt.Errorf("%s: %w", v.name, err)
		}
	}
	return nil
}

func take(tab context.Context, base string, v view, out string, width, height int64) error {
	scheme := "light"
	if v.dark {
		scheme = "dark"
	}
	media := emulation.SetEmulatedMediaParams{
		Features: []*emulation.MediaFeature{
			{Name: "prefers-color-scheme", Value: scheme},
			{Name: "prefers-reduced-motion", Value: "reduce"},
		},
	}
	if _, err := chromedp.Call(tab, emulation.SetEmulatedMedia, media); err != nil {
		return err
	}
	steps := append([]step{chromedp.EmulateViewport(width, max(height, 800)), chromedp.Navigate(base + v.path)}, v.do...)
	steps = append(
		steps,
		chromedp.Evaluate[chromedp.Void](`document.fonts.ready`, chromedp.EvalAwaitPromise),
		chromedp.Sleep(150*time.Millisecond),
	)
	if err := chromedp.Do(tab, steps...); err != nil {
		return err
	}
	shot := chromedp.CaptureScreenshot()
	if height == 0 {
		shot = chromedp.FullScreenshot(100)
	}
	png, err := chromedp.Run(tab, shot)
	if err != nil {
		return err
	}
	return os.WriteFile(filepath.Join(out, v.name+".png"), png, 0o644)
}
