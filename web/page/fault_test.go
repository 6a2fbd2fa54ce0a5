package page

import (
	"bytes"
	"context"
	"io/fs"
	"log/slog"
	"net/http"
	"net/http/httptest"
	"syscall"
	"testing"
	"testing/fstest"
	"time"

	"github.com/go-chi/chi/v5/middleware"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"ashshelf/shop"
	"ashshelf/store/disk"
	"ashshelf/web/door"
)

// A fault of the program is a page that claims no more than is known, and a line in
// the log that finds it; an answer that is broken off on purpose stays broken off.
func TestAFaultSaysWhatIsKnownAndIsLogged(t *testing.T) {
	s, err := shop.Open(context.Background(), t.TempDir(), time.Now)
	require.NoError(t, err)
	t.Cleanup(func() { assert.NoError(t, s.Close()) })
	var log bytes.Buffer
	server, err := New(s, door.New(nil, nil), nil, slog.New(slog.NewTextHandler(&log, nil)), fstest.MapFS{})
	require.NoError(t, err)
	broken := func(with any) http.Handler {
		return middleware.RequestID(server.Recover(http.HandlerFunc(func(http.ResponseWriter, *http.Request) { panic(with) })))
	}
	ask := func(method string) string {
		w := httptest.NewRecorder()
		broken("out of soap").ServeHTTP(w, httptest.NewRequest(method, "/", nil))
		assert.Equal(t, http.StatusInternalServerError, w.Code)
		return w.Body.String()
	}
	assert.NotContains(t, ask(http.MethodGet), "is not known")
	sent := ask(http.MethodPost)
	assert.Contains(t, sent, "Whether what you sent was recorded is not known")
	assert.NotContains(t, sent, "nothing new was recorded")
	for _, want := range []string{"out of soap", "fault_test.go", "request="} {
		assert.Contains(t, log.String(), want)
	}
	assert.PanicsWithValue(t, http.ErrAbortHandler, func() {
		broken(http.ErrAbortHandler).ServeHTTP(httptest.NewRecorder(), httptest.NewRequest(http.MethodGet, "/", nil))
	})
}

// Each trouble of the disk has its status, its words, and a header for what was sent in
// the background; nothing is claimed to be lost or kept that is not.
func TestEachTroubleOfTheDiskHasItsWordsAndItsStatus(t *testing.T) {
	s, err := shop.Open(context.Background(), t.TempDir(), time.Now)
	require.NoError(t, err)
	t.Cleanup(func() { assert.NoError(t, s.Close()) })
	server, err := New(s, door.New(nil, nil), nil, slog.New(slog.DiscardHandler), fstest.MapFS{})
	require.NoError(t, err)
	for _, c := range []struct {
		err    error
		status int
		says   string
	}{
		{syscall.ENOSPC, http.StatusInsufficientStorage, "full"},
		{fs.ErrPermission, http.StatusInternalServerError, "write-protected"},
		{disk.ErrBusy, http.StatusServiceUnavailable, "Another program"},
	} {
		w := httptest.NewRecorder()
		status, notice, fault := server.Refused(w, httptest.NewRequest(http.MethodPost, "/", nil), c.err, nil)
		require.NoError(t, fault)
		assert.Equal(t, c.status, status)
		assert.Contains(t, notice.Text(), "Nothing was recorded")
		assert.Contains(t, w.Header().Get(troubleHeader), c.says)
		assert.Equal(t, c.err == disk.ErrBusy, w.Header().Get("Retry-After") != "")

		w = httptest.NewRecorder()
		server.Fail(w, httptest.NewRequest(http.MethodGet, "/", nil), c.err)
		assert.Equal(t, c.status, w.Code)
		assert.Contains(t, w.Body.String(), c.says)
	}
	w := httptest.NewRecorder()
	r := httptest.NewRequest(http.MethodPost, "/", nil)
	_, _, fault := server.Refused(w, r, syscall.EIO, nil)
	require.ErrorIs(t, fault, syscall.EIO, "whether a broken disk took it is not known")
	server.Fail(w, r, fault)
	assert.Contains(t, w.Body.String(), "recorded once")
	assert.NotContains(t, w.Body.String(), "Nothing was recorded")
}

// Whatever an address is made of, the answer leads on within the shop.
func TestNoAnswerLeadsAway(t *testing.T) {
	for to, want := range map[string]string{
		"/lots/abc?step=weigh:fat:olive-oil#now": "/lots/abc?step=weigh:fat:olive-oil#now", "/": "/", "/molds/é": "/molds/%C3%A9",
		"/molds/\x1b[2J": "/", "//evil.example": "/", "https://evil.example": "/", "/x\r\nSet-Cookie: a=b": "/",
		"\\evil.example": "/", "javascript:alert(1)": "/", "": "/",
	} {
		w := httptest.NewRecorder()
		SeeOther(w, httptest.NewRequest(http.MethodPost, "/somewhere", nil), to)
		assert.Equal(t, want, w.Header().Get("Location"), "%q", to)
	}
}

func TestPartsOfAPageAreHandedOverByName(t *testing.T) {
	got, err := parts("page", 1, "seen", "two")
	require.NoError(t, err)
	assert.Equal(t, map[string]any{"page": 1, "seen": "two"}, got)
	for _, odd := range [][]any{{"page"}, {1, "page"}, {"page", 1, "seen"}} {
		_, err := parts(odd...)
		assert.Error(t, err, odd)
	}
}

// Two rooms that give a template one name would show each other's page: the program does not start with them.
func TestTwoRoomsHaveNoTemplateOfOneName(t *testing.T) {
	room := fstest.MapFS{"a.html": {Data: []byte(`{{define "stall"}}a{{end}}`)}}
	other := fstest.MapFS{"b.html": {Data: []byte(`{{- define "stall" -}}b{{end}}`)}}
	_, err := New(nil, nil, nil, nil, fstest.MapFS{}, room, other)
	assert.ErrorContains(t, err, "another room has a template “stall” already")
	_, err = New(nil, nil, nil, nil, fstest.MapFS{}, room)
	assert.NoError(t, err)
}
