package main

import (
	"context"
	"errors"
	"flag"
	"fmt"
	"net"
	"slices"
	"strings"
	"syscall"
	"time"

	"ashshelf/access"
	"ashshelf/shop"
	"ashshelf/shop/journal"
	"ashshelf/soap/caution"
	"ashshelf/soap/role"
	"ashshelf/store"
	"ashshelf/web"
)

// waiting is said while the shop is open on this machine alone although it was to be opened to
// the network.
const waiting = "ashshelf: over a network everybody signs in, so nothing is opened to it before an owner has a passphrase. " +
	"Open the address below on this computer, go to Settings and to You, and give yourself one; or say ashshelf passphrase. " +
	"The shop opens itself to the network then."

// open listens at the address, or as long as the shop is not ready for a network at the same
// port of this machine alone, to await that.
func (n line) open(ready bool) (l net.Listener, awaits bool, err error) {
	listen := func(addr string) (net.Listener, error) {
		l, err := net.Listen("tcp", addr)
		if errors.Is(err, syscall.EADDRINUSE) {
			return nil, fmt.Errorf(
				"something is open at %s already, perhaps another ashshelf; close it, or choose another address with -addr", addr)
		}
		if err != nil {
			return nil, fmt.Errorf("%s cannot be opened: %w; an address is a host and a port, such as %s", addr, err, defaultAddr)
		}
		return l, nil
	}
	if l, err = listen(n.addr); err != nil || ready || alone(l.Addr()) {
		return l, false, err
	}
	_, port, err := net.SplitHostPort(l.Addr().String())
	if err = errors.Join(err, l.Close()); err != nil {
		return nil, false, fmt.Errorf("address: %w", err)
	}
	l, err = listen(net.JoinHostPort("127.0.0.1", port))
	return l, true, err
}

// ownerShows reports whether an owner has a passphrase, by which she comes in from anywhere.
func ownerShows(ctx context.Context, s *shop.Shop, accounts *access.Accounts) (bool, error) {
	settings, err := s.Settings(ctx)
	if errors.Is(err, journal.ErrNotFounded) {
		return false, nil
	}
	if err != nil {
		return false, err
	}
	for _, p := range settings.Working() {
		if p.Role != role.Owner {
			continue
		}
		if has, err := accounts.Has(ctx, p.ID); err != nil || has.Passphrase {
			return has.Passphrase, err
		}
	}
	return false, nil
}

// readyLook is how often it is looked whether an owner has got a passphrase by a command.
const readyLook = 2 * time.Second

// reopenOnceReady has the shop opened anew once an owner has a passphrase.
func reopenOnceReady(ctx context.Context, s *shop.Shop, accounts *access.Accounts, pages *web.Server) {
	for {
		select {
		case <-ctx.Done():
			return
		case <-pages.Reopened:
			return
		case <-time.After(readyLook):
		}
		if ready, err := ownerShows(ctx, s, accounts); err == nil && ready {
			pages.Reopen()
			return
		}
	}
}

// runPassphrase gives somebody a passphrase: who sits at the machine and may read its files
// may do so. It is the way in for an owner who forgot hers.
func runPassphrase(args []string, t told) int {
	flags := flag.NewFlagSet("passphrase", flag.ContinueOnError)
	data := flags.String("data", defaultData(), "`folder` of the shop's records")
	name := flags.String("person", "", "`name` of whom it is for; the owner when left out")
	file := flags.String("passphrase-file", "", "`file` with the passphrase, in place of typing it")
	return command("passphrase", args, flags, func(ctx context.Context) (err error) {
		people, err := store.PeopleIn(ctx, *data)
		if err != nil {
			return err
		}
		who, err := meant(people, *name)
		if err != nil {
			return err
		}
		life, err := store.ReadLife(*data)
		if err != nil {
			return err
		}
		accounts, err := access.Open(ctx, *data, life.ID, time.Now)
		if err != nil {
			return err
		}
		defer func() { err = errors.Join(err, accounts.Close()) }()
		phrase, err := t.secret(fmt.Sprintf("New passphrase of %s, %d characters or more: ", who.Name, access.ShortestPassphrase), *file)()
		if err != nil {
			return err
		}
		var wrong caution.Problems
		access.CheckPassphrase(&wrong, "passphrase", phrase, who.Name)
		if err := wrong.Err(); err != nil {
			return fmt.Errorf("nothing was changed: %s", wrong.At("passphrase"))
		}
		if err := accounts.SetPassphrase(ctx, who.ID, phrase); err != nil {
			return err
		}
		note := access.Event{Kind: access.NewSecret, Person: who.ID, Detail: "passphrase, at the computer itself"}
		if err := accounts.Log(ctx, note); err != nil {
			return err
		}
		fmt.Fprintf(t.out, "%s has a new passphrase, and is signed out everywhere.\n", who.Name)
		return nil
	})
}

// meant is whom a name means, or without one the only owner.
func meant(people []store.Person, name string) (store.Person, error) {
	var out []store.Person
	var names []string
	for _, p := range people {
		if !p.Active {
			continue
		}
		names = append(names, p.Name)
		if name != "" && strings.EqualFold(p.Name, strings.TrimSpace(name)) || name == "" && p.Role == role.Owner {
			out = append(out, p)
		}
	}
	if len(out) != 1 {
		slices.Sort(names)
		return store.Person{}, fmt.Errorf("say whom you mean with -person: %s", strings.Join(names, ", "))
	}
	return out[0], nil
}
