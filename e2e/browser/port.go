package browser

import (
	"fmt"
	"math/rand/v2"
	"net"
)

// Port opens a port that nobody has. It lies below those that a system gives to whoever
// connects to something, so that it is still free when a program is killed on it and
// started again. A browser opens no page at 10080, where another protocol is at home.
func Port() (net.Listener, error) {
	var err error
	for range 100 {
		var l net.Listener
		if l, err = net.Listen("tcp", fmt.Sprintf("127.0.0.1:%d", 10_100+rand.IntN(19_900))); err == nil {
			return l, nil
		}
	}
	return nil, fmt.Errorf("no port is free: %w", err)
}
