package access

import (
	"context"
	"errors"
	"os"
	"path/filepath"
	"strings"
	"sync"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"ashshelf/soap/caution"
)

var bg = context.Background()

// shelf is the accounts of a folder, with a clock of their own.
type shelf struct {
	*Accounts
	t    *testing.T
	dir  string
	life string
	at   time.Time
}

func open(t *testing.T) *shelf {
	s := &shelf{t: t, dir: t.TempDir(), life: "first", at: time.Date(2026, 3, 14, 9, 0, 0, 0, time.UTC)}
	s.reopen()
	t.Cleanup(func() { assert.NoError(t, s.Close()) })
	return s
}

func (s *shelf) reopen() {
	s.t.Helper()
	if s.Accounts != nil {
		require.NoError(s.t, s.Close())
	}
	a, err := Open(bg, s.dir, s.life, func() time.Time { return s.at })
	require.NoError(s.t, err)
	s.Accounts = a
}

const phrase = "quarry lamp, two herons"

func TestAPassphraseCountsFromAnywhereAndAPINAtDevicesOfTheShop(t *testing.T) {
	s := open(t)
	require.NoError(t, s.SetPIN(bg, 1, "274913"))
	require.NoError(t, s.SetPassphrase(bg, 1, phrase))
	has, err := s.Has(bg, 1)
	require.NoError(t, err)
	assert.Equal(t, Has{true, true}, has)
	for name, c := range map[string]struct {
		try Try
		how How
	}{
		"the passphrase, from the network":     {Try{Person: 1, Secret: phrase, Address: "10.0.0.2"}, Passphrase},
		"the passphrase, at the bench":         {Try{Person: 1, Secret: phrase, Device: 3}, Passphrase},
		"the PIN, at the bench":                {Try{Person: 1, Secret: "274913", Device: 3}, PIN},
		"the PIN, at the machine itself":       {Try{Person: 1, Secret: "274913", Here: true}, PIN},
		"the PIN, by an invitation":            {Try{Person: 1, Secret: "274913", Address: "10.0.0.3", Invited: true}, PIN},
		"the PIN, from the network":            {Try{Person: 1, Secret: "274913", Address: "10.0.0.4"}, ""},
		"another PIN":                          {Try{Person: 1, Secret: "274914", Device: 4}, ""},
		"another passphrase":                   {Try{Person: 1, Secret: phrase + "s", Address: "10.0.0.5"}, ""},
		"the PIN of somebody else":             {Try{Person: 2, Secret: "274913", Device: 5}, ""},
		"nothing":                              {Try{Person: 1, Device: 6}, ""},
		"a name that nobody has":               {Try{Secret: phrase, Address: "10.0.0.6"}, ""},
		"much more than a passphrase":          {Try{Person: 1, Secret: strings.Repeat("x", 1<<20), Address: "10.0.0.7"}, ""},
		"the hash, which a thief may have":     {Try{Person: 1, Secret: hashOf(t, s, 1), Address: "10.0.0.8"}, ""},
		"the secret, with the key mixed in it": {Try{Person: 1, Secret: s.mixed(phrase), Address: "10.0.0.9"}, ""},
	} {
		s.at = s.at.Add(longestWait + forgiven + time.Second)
		how, err := s.Verify(bg, c.try)
		assert.Equal(t, c.how, how, name)
		if c.how == "" {
			assert.ErrorIs(t, err, ErrWrong, name)
		} else {
			assert.NoError(t, err, name)
		}
	}
}

func hashOf(t *testing.T, s *shelf, person int64) string {
	_, hash, _, err := s.account(bg, person)
	require.NoError(t, err)
	require.True(t, strings.HasPrefix(hash, "$argon2id$v=19$m=32768,t=3,p=1$"), hash)
	return hash
}

func TestWhoGuessesWaitsLongerEachTime(t *testing.T) {
	s := open(t)
	require.NoError(t, s.SetPIN(bg, 1, "274913"))
	wrong := Try{Person: 1, Secret: "000000", Device: 7}
	var wait *Wait
	var waits []time.Duration
	for len(waits) < 8 {
		_, err := s.Verify(bg, wrong)
		if errors.As(err, &wait) {
			waits = append(waits, wait.For)
			s.at = s.at.Add(wait.For)
			continue
		}
		require.ErrorIs(t, err, ErrWrong)
	}
	assert.Equal(t, []time.Duration{2 * time.Second, 4 * time.Second, 8 * time.Second}, waits[:3])
	assert.IsIncreasing(t, waits)

	// The right one has to wait, too, and then ends the waiting.
	_, err := s.Verify(bg, wrong)
	require.ErrorIs(t, err, ErrWrong)
	right := wrong
	right.Secret = "274913"
	_, err = s.Verify(bg, right)
	require.ErrorAs(t, err, &wait)
	assert.Regexp(t, `wait \d+ (seconds|minutes)$`, wait.Error())
	s.reopen()
	_, err = s.Verify(bg, right)
	require.ErrorAs(t, err, &wait, "a restart of the program makes nothing undone")

	// Somebody who guesses from elsewhere keeps nobody from the bench.
	elsewhere := Try{Person: 1, Secret: phrase, Address: "10.0.0.9"}
	for range 9 {
		_, err = s.Verify(bg, elsewhere)
		require.Error(t, err)
	}
	require.ErrorAs(t, err, &wait)
	_, err = s.Verify(bg, Try{Person: 1, Secret: "274913", Device: 8})
	require.NoError(t, err)

	s.at = s.at.Add(longestWait)
	_, err = s.Verify(bg, right)
	require.NoError(t, err)
	for range freeTries {
		_, err = s.Verify(bg, wrong)
		require.ErrorIs(t, err, ErrWrong, "it begins anew")
	}
}

func TestManyTriesAtOnceAreNoWayAroundTheWaiting(t *testing.T) {
	s := open(t)
	require.NoError(t, s.SetPIN(bg, 1, "274913"))
	var mu sync.Mutex
	looked := 0
	var all sync.WaitGroup
	for range 24 {
		all.Go(func() {
			if _, err := s.Verify(bg, Try{Person: 1, Secret: "111222", Device: 1}); assert.Error(t, err) {
				mu.Lock()
				defer mu.Unlock()
				if err == ErrWrong {
					looked++
				}
			}
		})
	}
	all.Wait()
	assert.Equal(t, freeTries+1, looked)
}

func TestTheDelayGrowsToAQuarterOfAnHour(t *testing.T) {
	assert.Zero(t, Delay(0))
	assert.Zero(t, Delay(freeTries))
	assert.Equal(t, 2*time.Second, Delay(freeTries+1))
	rapid.Check(t, func(t *rapid.T) {
		n := rapid.IntRange(0, 1<<30).Draw(t, "failures")
		assert.LessOrEqual(t, Delay(n), Delay(n+1))
		assert.LessOrEqual(t, Delay(n), longestWait)
		assert.GreaterOrEqual(t, Delay(n), time.Duration(0))
	})
	assert.Equal(t, longestWait, Delay(100))
}

func TestSecretsThatAreGuessedFirstAreRefused(t *testing.T) {
	pin := func(s string) string {
		var p caution.Problems
		CheckPIN(&p, "pin", s)
		return p.At("pin")
	}
	for s, says := range map[string]string{
		"": "6 to 10 figures", "12345": "6 to 10", "12345678901": "6 to 10", "12a456": "figures alone", "١٢٣٤٥٦": "figures alone",
		"123456": "first who guesses", "987654": "first who guesses", "567890": "first who guesses", "000000": "first who guesses",
		"121212": "first who guesses", "274913": "",
	} {
		if says == "" {
			assert.Empty(t, pin(s), s)
		} else {
			assert.Contains(t, pin(s), says, s)
		}
	}
	passphrase := func(s string) string {
		var p caution.Problems
		CheckPassphrase(&p, "phrase", s, "Quernhollow Soap", "Odile")
		return p.At("phrase")
	}
	for s, says := range map[string]string{
		"":                                 "12 characters or more",
		"elevenchars":                      "12 characters or more",
		"aaaaaaaaaaaa":                     "first who guesses",
		"abcabcabcabcabc":                  "first who guesses",
		"quernhollow soap":                 "first who guesses",
		"Odile's soap":                     "first who guesses",
		"passwordpassword":                 "first who guesses",
		strings.Repeat("ab", 99):           "first who guesses",
		strings.Repeat("quarry lamp ", 20): "200 do",
		"quarry \xff lamp herons":          "cannot be read",
		phrase:                             "",
		"drei Gänse am Ährenfeld":          "",
	} {
		if says == "" {
			assert.Empty(t, passphrase(s), s)
		} else {
			assert.Contains(t, passphrase(s), says, s)
		}
	}
}

func TestAnInvitationIsGoodOnceAndForAQuarterOfAnHour(t *testing.T) {
	s := open(t)
	code, until, err := s.Invite(bg, 2)
	require.NoError(t, err)
	assert.Equal(t, s.at.Add(15*time.Minute), until)
	whose, err := s.Invited(bg, code)
	require.NoError(t, err)
	assert.EqualValues(t, 2, whose, "a look does not use it up")
	token, d, err := s.Enrol(bg, code, "tablet at the bench", "274913")
	require.NoError(t, err)
	_, _, err = s.Enrol(bg, code, "another", "")
	assert.ErrorIs(t, err, ErrInvitation)
	found, err := s.Device(bg, token)
	require.NoError(t, err)
	assert.Equal(t, d.ID, found.ID)
	assert.Equal(t, "tablet at the bench", found.Name)
	how, err := s.Verify(bg, Try{Person: 2, Secret: "274913", Device: d.ID})
	require.NoError(t, err)
	assert.Equal(t, PIN, how, "the PIN that she chose is hers")
	for _, none := range []string{"", "nonsense", code, digest(token)} {
		found, err := s.Device(bg, none)
		require.NoError(t, err)
		assert.Zero(t, found.ID, none)
	}

	late, _, err := s.Invite(bg, 2)
	require.NoError(t, err)
	newer, _, err := s.Invite(bg, 2)
	require.NoError(t, err)
	_, err = s.Invited(bg, late)
	assert.ErrorIs(t, err, ErrInvitation, "a newer one makes it void")
	s.at = until.Add(time.Hour)
	_, _, err = s.Enrol(bg, newer, "late", "")
	assert.ErrorIs(t, err, ErrInvitation)

	require.NoError(t, s.Remove(bg, d.ID))
	found, err = s.Device(bg, token)
	require.NoError(t, err)
	assert.Zero(t, found.ID)
}

func TestTwoWhoReadOneCodeAreNotBothLetIn(t *testing.T) {
	s := open(t)
	code, _, err := s.Invite(bg, 2)
	require.NoError(t, err)
	var in sync.Map
	var all sync.WaitGroup
	for i := range 8 {
		all.Go(func() {
			if _, _, err := s.Enrol(bg, code, "tablet", ""); err == nil {
				in.Store(i, true)
			} else {
				assert.ErrorIs(t, err, ErrInvitation)
			}
		})
	}
	all.Wait()
	n := 0
	in.Range(func(any, any) bool { n++; return true })
	assert.Equal(t, 1, n)
}

func TestAShopKeepsSoManyDevices(t *testing.T) {
	s := open(t)
	for i := range mostDevices + 1 {
		code, _, err := s.Invite(bg, 1)
		require.NoError(t, err)
		_, _, err = s.Enrol(bg, code, "tablet", "")
		if i < mostDevices {
			require.NoError(t, err)
			continue
		}
		assert.ErrorIs(t, err, ErrDevices)
		_, err = s.Invited(bg, code)
		assert.NoError(t, err, "what was refused is not used up")
	}
}

func TestANewSecretEndsTheSessionsBefore(t *testing.T) {
	s := open(t)
	epoch := func() int64 {
		e, err := s.Epoch(bg, 1)
		require.NoError(t, err)
		return e
	}
	require.NoError(t, s.SetPassphrase(bg, 1, phrase))
	last := epoch()
	for name, ends := range map[string]func() error{
		"a new PIN":            func() error { return s.SetPIN(bg, 1, "274913") },
		"a new passphrase":     func() error { return s.SetPassphrase(bg, 1, phrase+"!") },
		"signing out":          func() error { return s.EndSessions(bg, 1) },
		"taking it all away":   func() error { return s.Forget(bg, 1) },
		"even without secrets": func() error { return s.EndSessions(bg, 1) },
	} {
		require.NoError(t, ends())
		assert.Greater(t, epoch(), last, name)
		last = epoch()
	}
}

// A shop that comes back from a copy, or whose key is lost, lets nobody in by what was before.
func TestAnotherLifeOfTheShopBeginsWithNobody(t *testing.T) {
	s := open(t)
	set := func() (token string) {
		require.NoError(t, s.SetPassphrase(bg, 1, phrase))
		code, _, err := s.Invite(bg, 1)
		require.NoError(t, err)
		token, _, err = s.Enrol(bg, code, "tablet", "")
		require.NoError(t, err)
		require.NoError(t, Sessions{s.Accounts}.Commit("x", []byte("y"), s.at.Add(time.Hour)))
		return token
	}
	gone := func(token, why string) {
		t.Helper()
		has, err := s.Has(bg, 1)
		require.NoError(t, err)
		assert.False(t, has.Any(), why)
		d, err := s.Device(bg, token)
		require.NoError(t, err)
		assert.Zero(t, d.ID, why)
		_, found, err := Sessions{s.Accounts}.Find("x")
		require.NoError(t, err)
		assert.False(t, found, why)
		events, err := s.Events(bg, 10)
		require.NoError(t, err)
		require.NotEmpty(t, events)
		assert.Equal(t, NewLife, events[0].Kind, "the log tells of it")
	}
	token := set()
	s.reopen()
	has, err := s.Has(bg, 1)
	require.NoError(t, err)
	require.True(t, has.Passphrase, "the same life goes on")
	s.life = "second"
	s.reopen()
	gone(token, "it was restored")

	token = set()
	require.NoError(t, os.Remove(filepath.Join(s.dir, Folder, keyFile)))
	s.reopen()
	gone(token, "the key is lost")

	require.NoError(t, os.WriteFile(filepath.Join(s.dir, Folder, keyFile), []byte("scribble"), 0o600))
	_, err = Open(bg, s.dir, s.life, time.Now)
	assert.ErrorContains(t, err, "is damaged")
}

func TestWhatIsKeptIsForItsOwnerAloneAndTellsNoSecret(t *testing.T) {
	s := open(t)
	require.NoError(t, s.SetPassphrase(bg, 1, phrase))
	require.NoError(t, s.SetPIN(bg, 1, "274913"))
	code, _, err := s.Invite(bg, 1)
	require.NoError(t, err)
	token, _, err := s.Enrol(bg, code, "tablet", "")
	require.NoError(t, err)
	key, err := os.ReadFile(filepath.Join(s.dir, Folder, keyFile))
	require.NoError(t, err)
	s.reopen()
	require.NoError(t, filepath.WalkDir(filepath.Join(s.dir, Folder), func(path string, d os.DirEntry, err error) error {
		require.NoError(t, err)
		info, err := d.Info()
		require.NoError(t, err)
		if d.IsDir() {
			assert.Zero(t, info.Mode().Perm()&0o077, path)
			return nil
		}
		body, err := os.ReadFile(path)
		require.NoError(t, err)
		for _, secret := range []string{phrase, "274913", token, code} {
			assert.NotContains(t, string(body), secret, path)
		}
		if d.Name() != keyFile {
			assert.NotContains(t, string(body), strings.TrimSpace(string(key)), path)
		}
		return nil
	}))
}

func TestAFloodDoesNotWashTheLogAway(t *testing.T) {
	s := open(t)
	require.NoError(t, s.Log(bg, Event{Kind: SignedIn, Person: 1, Address: "10.0.0.2"}))
	for range 50 {
		require.NoError(t, s.Log(bg, Event{Kind: HadToWait, Address: "10.0.0.9", Detail: strings.Repeat("x", 1000)}))
	}
	events, err := s.Events(bg, 10)
	require.NoError(t, err)
	require.Len(t, events, 2)
	assert.Equal(t, 50, events[0].Times)
	assert.Len(t, events[0].Detail, mostDetail)
	assert.True(t, events[0].Kind.Refused())
	s.at = s.at.Add(2 * oneEvent)
	require.NoError(t, s.Log(bg, Event{Kind: HadToWait, Address: "10.0.0.9"}))
	events, err = s.Events(bg, 10)
	require.NoError(t, err)
	assert.Len(t, events, 3, "a later one is a line of its own")
	for _, k := range []Kind{SignedIn, WrongSecret, HadToWait, SignedOut, OutEverywhere, InvitedOne, EnrolledOne, DeadCode, RemovedOne,
		NewSecret, Forgotten, NotAllowed, TooMany, NewLife, People} {
		assert.NotEmpty(t, k.Words(), k)
	}
}
