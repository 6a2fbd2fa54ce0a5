package web

import (
	"bytes"
	"context"
	"log/slog"
	"net/http"
	"net/http/httptest"
	"testing"
	"time"

	"github.com/go-chi/chi/v5/middleware"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"ashshelf/shop"
)

// A fault of the program is a page that claims no more than is known, and a line in
// the log that finds it; an answer that is broken off on purpose stays broken off.
func TestAFaultSaysWhatIsKnownAndIsLogged(t *testing.T) {
	s, err := shop.Open(context.Background(), t.TempDir(), time.Now)
	require.NoError(t, err)
	t.Cleanup(func() { assert.NoError(t, s.Close()) })
	var log bytes.Buffer
	server, err := New(s, nil, slog.New(slog.NewTextHandler(&log, nil)))
	require.NoError(t, err)
	broken := func(with any) http.Handler {
		return middleware.RequestID(server.recover(http.HandlerFunc(func(http.ResponseWriter, *http.Request) { panic(with) })))
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
