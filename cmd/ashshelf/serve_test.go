package main

import (
	"context"
	"fmt"
	"net"
	"os"
	"path/filepath"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"ashshelf/device"
	"ashshelf/shop"
	"ashshelf/store"
)

// The program ends within three seconds of being told to, also while somebody is
// sending a picture on a line that does not move.
func TestTheProgramEndsDuringAnUpload(t *testing.T) {
	free, err := net.Listen("tcp", "127.0.0.1:0")
	require.NoError(t, err)
	addr := free.Addr().String()
	require.NoError(t, free.Close())
	s, err := shop.Open(context.Background(), t.TempDir(), time.Now)
	require.NoError(t, err)
	ctx, stop := context.WithCancel(context.Background())
	ended := make(chan error, 1)
	go func() { ended <- listen(ctx, s, device.NewSet(ctx, quiet()), line{addr: addr}, "a test") }()
	var line net.Conn
	require.Eventually(t, func() bool {
		line, err = net.Dial("tcp", addr)
		return err == nil
	}, 5*time.Second, 20*time.Millisecond)
	defer line.Close()
	_, err = fmt.Fprintf(
		line,
		"POST /lots/x/photo HTTP/1.1\r\nHost: %s\r\nContent-Type: multipart/form-data; boundary=b\r\nContent-Length: 1000000\r\n\r\n--b\r\n",
		addr,
	)
	require.NoError(t, err)
	time.Sleep(100 * time.Millisecond)
	began := time.Now()
	stop()
	select {
	case err := <-ended:
		assert.NoError(t, err)
	case <-time.After(6 * time.Second):
		t.Fatal("it goes on")
	}
	assert.Less(t, time.Since(began), 3*time.Second)
	require.NoError(t, s.Close())
}

// What is wrong with a folder is said in a sentence, and the program does not start.
func TestAFolderWithoutItsRecordsIsNotStarted(t *testing.T) {
	dir := t.TempDir()
	require.NoError(t, os.Mkdir(filepath.Join(dir, "photos"), 0o700))
	assert.Equal(t, 1, runServe([]string{"-data", dir}))
	assert.NoFileExists(t, filepath.Join(dir, store.File))
	assert.Equal(t, 1, runDemo([]string{"-data", dir}), "nor is a demo made in its place")
}

func TestAnAddressThatIsTakenIsSaidInASentence(t *testing.T) {
	taken, err := net.Listen("tcp", "127.0.0.1:0")
	require.NoError(t, err)
	defer taken.Close()
	s, err := shop.Open(context.Background(), t.TempDir(), time.Now)
	require.NoError(t, err)
	for addr, says := range map[string]string{taken.Addr().String(): "is open at", "nowhere": "a host and a port"} {
		err := listen(context.Background(), s, device.NewSet(context.Background(), quiet()), line{addr: addr}, "a test")
		assert.ErrorContains(t, err, says)
	}
	require.NoError(t, s.Close())
}
