// Package browser starts headless Chromium for the browser tests and the
// pictures.
package browser

import (
	"context"
	"fmt"
	"os/exec"

	"github.com/chromedp/chromedp"
)

// Find returns the path of Chromium on this machine.
func Find() (string, error) {
	for _, name := range []string{"chromium-headless-shell", "chromium", "chromium-browser", "google-chrome"} {
		if path, err := exec.LookPath(name); err == nil {
			return path, nil
		}
	}
	return "", fmt.Errorf("no Chromium found; ./test.sh installs it, or install Debian's package chromium-headless-shell")
}

// Start starts a browser of its own, with a window of the given size. The
// returned function ends it.
func Start(parent context.Context, width, height int) (context.Context, context.CancelFunc, error) {
	path, err := Find()
	if err != nil {
		return nil, nil, err
	}
	options := append(chromedp.DefaultExecAllocatorOptions[:],
		chromedp.ExecPath(path), chromedp.NoSandbox, chromedp.DisableGPU, chromedp.WindowSize(width, height),
		chromedp.Flag("disable-background-networking", true), chromedp.Flag("disable-component-update", true),
		chromedp.Flag("disable-quic", true), chromedp.Flag("font-render-hinting", "none"), chromedp.Flag("hide-scrollbars", true),
		chromedp.Flag("lang", "en-GB"),
		chromedp.Flag("force-prefers-reduced-motion", true), // what moves is drawn again and again, and nobody sees it
	)
	alloc, endAlloc := chromedp.NewExecAllocator(parent, options...)
	tab, endTab := chromedp.NewContext(alloc)
	end := func() { endTab(); endAlloc() }
	if err := chromedp.Do(tab); err != nil {
		end()
		return nil, nil, fmt.Errorf("start Chromium: %w", err)
	}
	return tab, end, nil
}
