package main

import (
	"bufio"
	"context"
	"errors"
	"fmt"
	"io"
	"net/http"
	"net/http/cookiejar"
	"net/url"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"sync"
	"time"

	"ashshelf/demo"
	"ashshelf/e2e/browser"
	"ashshelf/store"
	"ashshelf/web/page/dom"
)

// blankShop is the records of a made-up shop.
func blankShop(ctx context.Context, now time.Time) ([]byte, error) { return demo.Records(ctx, now) }

// folder is a new data folder, with the records of the made-up shop in it.
func (c *Campaign) folder() (string, error) {
	dir, err := os.MkdirTemp(c.dir, "shop-")
	if err == nil {
		err = os.WriteFile(filepath.Join(dir, store.File), c.blank, 0o600)
	}
	return dir, err
}

// program is the program as it runs.
type program struct {
	cmd  *exec.Cmd
	addr string
	said *voice
	done chan error
}

// voice keeps what the program says, the newest last.
type voice struct {
	mu   sync.Mutex
	text strings.Builder
}

func (v *voice) Write(p []byte) (int, error) {
	v.mu.Lock()
	defer v.mu.Unlock()
	if v.text.Len() < 1<<20 {
		v.text.Write(p)
	}
	return len(p), nil
}

func (v *voice) String() string {
	v.mu.Lock()
	defer v.mu.Unlock()
	return v.text.String()
}

// errNotOpen says that the program ended before it was open.
var errNotOpen = errors.New("the program did not open")

// start runs the program on a data folder and waits until it is open.
func (c *Campaign) start(ctx context.Context, dir string) (*program, error) {
	p, line, err := c.launch(ctx, dir)
	if err != nil {
		return nil, err
	}
	select {
	case open := <-line:
		if strings.Contains(open, "is open at") {
			return p, nil
		}
		p.kill()
		return nil, fmt.Errorf("%w: %s", errNotOpen, p.said)
	case <-time.After(3 * time.Minute): // the race detector takes its time
		p.kill()
		return nil, fmt.Errorf("%w within three minutes: %s", errNotOpen, p.said)
	}
}

// launch runs the program without waiting; its first line, or none when it ends, comes
// through the channel.
func (c *Campaign) launch(ctx context.Context, dir string) (*program, <-chan string, error) {
	free, err := browser.Port()
	if err != nil {
		return nil, nil, err
	}
	addr := free.Addr().String()
	if err := free.Close(); err != nil {
		return nil, nil, fmt.Errorf("find a port: %w", err)
	}
	p := &program{addr: addr, said: &voice{}, done: make(chan error, 1)}
	p.cmd = exec.CommandContext(ctx, c.program, "demo", "-addr", addr, "-data", dir, "-now", c.moment.Format(time.RFC3339))
	p.cmd.Stderr = p.said
	out, err := p.cmd.StdoutPipe()
	if err != nil {
		return nil, nil, fmt.Errorf("program: %w", err)
	}
	if err := p.cmd.Start(); err != nil {
		return nil, nil, fmt.Errorf("program: %w", err)
	}
	line := make(chan string, 1)
	go func() {
		r := bufio.NewReader(out)
		text, _ := r.ReadString('\n') // none when it ended
		line <- text
		_, _ = io.Copy(io.Discard, r)
		p.done <- p.cmd.Wait()
	}()
	return p, line, nil
}

// kill ends the program as a power cut does, and waits until it is gone.
func (p *program) kill() {
	_ = p.cmd.Process.Kill() // it may have ended by itself
	p.done <- <-p.done
}

// stop ends the program as Ctrl-C does.
func (p *program) stop() error {
	if err := p.cmd.Process.Signal(os.Interrupt); err != nil {
		return fmt.Errorf("stop: %w", err)
	}
	select {
	case err := <-p.done:
		p.done <- err
		return err
	case <-time.After(10 * time.Second):
		p.kill()
		return errors.New("the program did not end within ten seconds")
	}
}

// alive fails when the program ended by itself, met a fault, or raced.
func (p *program) alive() error {
	select {
	case err := <-p.done:
		p.done <- err
		return fmt.Errorf("the program ended by itself: %w; %s", err, p.said)
	default:
		return p.clean()
	}
}

// clean fails when the program told of a fault or a race.
func (p *program) clean() error {
	for _, word := range []string{"DATA RACE", "panic", "fatal error"} {
		if strings.Contains(p.said.String(), word) {
			return fmt.Errorf("the program says %s: %s", word, p.said)
		}
	}
	return nil
}

// visitor is a browser without script at the program.
type visitor struct {
	base string
	http *http.Client
}

// tablet is a new device of the shop.
func tablet() *cookiejar.Jar {
	jar, err := cookiejar.New(nil)
	if err != nil {
		panic(err) // it has no options that could be wrong
	}
	return jar
}

// visit is a visitor at a device, who says who is at the bench.
func (p *program) visit(ctx context.Context, at *cookiejar.Jar) (*visitor, error) {
	v := &visitor{"http://" + p.addr, &http.Client{Jar: at, Timeout: 40 * time.Second}}
	_, _, err := v.post(ctx, "/who", url.Values{"person": {"1"}, "next": {"/look"}})
	return v, err
}

func (v *visitor) do(r *http.Request, err error) (status int, body string, asked *url.URL, _ error) {
	if err != nil {
		return 0, "", nil, err
	}
	answer, err := v.http.Do(r)
	if err != nil {
		return 0, "", nil, err
	}
	defer answer.Body.Close()
	text, err := io.ReadAll(answer.Body)
	return answer.StatusCode, string(text), answer.Request.URL, err
}

func (v *visitor) get(ctx context.Context, path string) (status int, body string, asked *url.URL, err error) {
	return v.do(http.NewRequestWithContext(ctx, http.MethodGet, v.base+path, nil))
}

func (v *visitor) post(ctx context.Context, path string, form url.Values) (status int, body string, err error) {
	r, err := http.NewRequestWithContext(ctx, http.MethodPost, v.base+path, strings.NewReader(form.Encode()))
	if err == nil {
		r.Header.Set("Content-Type", "application/x-www-form-urlencoded")
	}
	status, body, _, err = v.do(r, err)
	return status, body, err
}

// errNoForm says that a page has no such form now.
var errNoForm = errors.New("the page has no such form")

// form is a form of a page as a browser would send it, found by how its address ends.
// page may be an address that leads on to another.
func (v *visitor) form(ctx context.Context, page, action string) (to string, form url.Values, err error) {
	status, body, at, err := v.get(ctx, page)
	if err != nil {
		return "", nil, err
	}
	if status != http.StatusOK {
		return "", nil, fmt.Errorf("%w: %s answers %d", errNoForm, page, status)
	}
	doc, err := dom.Parse(body)
	if err != nil {
		return "", nil, fmt.Errorf("%s: %w", page, err)
	}
	if action == "" {
		action = at.Path // the form of the page itself
	}
	to, form, ok := doc.Form(action)
	if !ok {
		return "", nil, fmt.Errorf("%w: %s of %s", errNoForm, action, page)
	}
	return to, form, nil
}

// links are the addresses on a page that begin with one and are of one thing.
func (v *visitor) links(ctx context.Context, page, begins string) (out []string, err error) {
	_, body, _, err := v.get(ctx, page)
	if err != nil {
		return nil, err
	}
	doc, err := dom.Parse(body)
	if err != nil {
		return nil, fmt.Errorf("%s: %w", page, err)
	}
	for _, to := range doc.Links() {
		rest, ok := strings.CutPrefix(to, begins)
		if rest = strings.TrimSuffix(rest, "/bars"); ok && len(rest) == 26 { // a product is led to by its bars
			out = append(out, begins+rest)
		}
	}
	return out, nil
}
