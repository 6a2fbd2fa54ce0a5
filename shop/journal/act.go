package journal

import (
	"errors"
	"fmt"
	"time"

	"ashshelf/soap/caution"
)

// Act says who does something, from where, and how to know it again.
type Act struct {
	Person      int64
	Device      string // token of the device
	DeviceLabel string
	Key         string // idempotency key; the same key records once
	Fingerprint string // of what was sent, so that a key is not used for two things
	Seen        int64  // the newest entry the page knew of, where that matters
	Draft       Draft  // that ends with it; none when empty
	Signed      string // how she showed that it is she, "pin" or "passphrase"; empty when she was not asked

	Happened time.Time // when it really happened, where that was earlier; zero for now
	Late     string    // by whom, and why it is written down only now

	Unread caution.Problems // of what was typed; as long as there are any nothing is recorded
}

// Errors that pages answer in their own way.
var (
	ErrNotFounded = errors.New("the shop is not founded yet")
	ErrNobody     = errors.New("choose who is working first")
	ErrOtherLife  = errors.New("this page is from before the shop was restored from its copy; nothing was recorded now")
	ErrKeyReused  = errors.New("this page was sent before with other values, which were recorded; nothing was recorded now")
)

// Conflict says that something changed since the page was made.
type Conflict struct {
	What string
	Who  string
	When time.Time
}

func (c *Conflict) Error() string {
	return fmt.Sprintf("%s was changed by %s in the meantime; nothing was recorded", c.What, c.Who)
}
