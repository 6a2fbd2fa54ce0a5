package authority

import (
	"errors"
	"net"
	"sync"
	"time"
)

// helloTime is how long a connection may be silent before it says what it wants.
const helloTime = 10 * time.Second

// tlsHello is the first byte of whoever begins to speak TLS; nobody who speaks plain HTTP
// begins with it.
const tlsHello = 0x16

// Split divides the connections of an address into those that speak TLS and those that speak
// plainly, so that somebody who types the address without https is told where to go. Closing
// either closes both.
func Split(l net.Listener) (secure, plain net.Listener) {
	s := &splitter{Listener: l, closed: make(chan struct{})}
	a, b := &half{s, make(chan net.Conn)}, &half{s, make(chan net.Conn)}
	go s.accept(a.ready, b.ready)
	return a, b
}

type splitter struct {
	net.Listener
	once   sync.Once
	closed chan struct{}
	failed error // why it accepts no more
}

func (s *splitter) stop(err error) {
	s.once.Do(func() {
		s.failed = err
		close(s.closed)
	})
}

func (s *splitter) accept(secure, plain chan<- net.Conn) {
	for {
		c, err := s.Accept()
		if err != nil {
			var passing net.Error
			if errors.As(err, &passing) && passing.Timeout() {
				continue
			}
			s.stop(err)
			return
		}
		go func() {
			first := make([]byte, 1)
			if c.SetReadDeadline(time.Now().Add(helloTime)) != nil || read(c, first) != nil || c.SetReadDeadline(time.Time{}) != nil {
				_ = c.Close() // it said nothing
				return
			}
			to := plain
			if first[0] == tlsHello {
				to = secure
			}
			select {
			case to <- &begun{Conn: c, first: first}:
			case <-s.closed:
				_ = c.Close()
			}
		}()
	}
}

func read(c net.Conn, into []byte) error {
	_, err := c.Read(into)
	return err
}

// half is one of the two listeners.
type half struct {
	*splitter
	ready chan net.Conn
}

func (h *half) Accept() (net.Conn, error) {
	select {
	case c := <-h.ready:
		return c, nil
	case <-h.closed:
		return nil, h.failed
	}
}

func (h *half) Close() error {
	err := h.Listener.Close()
	h.stop(net.ErrClosed)
	if errors.Is(err, net.ErrClosed) { // by the other half
		return nil
	}
	return err
}

// begun is a connection of which the first byte was read already.
type begun struct {
	net.Conn
	first []byte
}

func (b *begun) Read(into []byte) (int, error) {
	if len(b.first) > 0 && len(into) > 0 {
		n := copy(into, b.first)
		b.first = b.first[n:]
		return n, nil
	}
	return b.Conn.Read(into)
}
