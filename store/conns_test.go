package store

import (
	"context"
	"fmt"
	"sync"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"ashshelf/soap/role"
)

// A page that is closed while it loads takes nothing with it: neither the next
// reader nor the writer waits for a connection that never comes back, and a
// change that was cut off is not there.
func TestARequestThatIsCutOffLeavesTheDatabaseUsable(t *testing.T) {
	db, err := Open(context.Background(), t.TempDir())
	require.NoError(t, err)
	var open sync.WaitGroup
	for i := range 40 {
		ctx, cancel := context.WithTimeout(context.Background(), time.Duration(i%5)*time.Millisecond)
		defer cancel()
		open.Go(func() {
			_ = db.Read(ctx, func(tx *Tx) error {
				for range 200 {
					if _, err := tx.People(); err != nil {
						return err
					}
				}
				return nil
			})
		})
		open.Go(func() {
			_ = db.Write(ctx, func(tx *Tx) error {
				if _, err := tx.AddPerson(fmt.Sprint("cut off ", i), role.Maker); err != nil {
					return err
				}
				<-ctx.Done()
				return ctx.Err()
			})
		})
	}
	open.Wait()
	ctx, cancel := context.WithTimeout(context.Background(), 10*time.Second)
	defer cancel()
	for i := range 20 {
		require.NoError(t, db.Write(ctx, func(tx *Tx) error {
			_, err := tx.AddPerson(fmt.Sprint("Ida ", i), role.Maker)
			return err
		}))
		require.NoError(t, db.Read(ctx, func(tx *Tx) error {
			people, err := tx.People()
			assert.Len(t, people, i+1)
			return err
		}))
	}
	require.NoError(t, db.Close())
}

// A fault of the program in the middle of a change takes the change back, and the
// next one does not wait.
func TestAPanicTakesItsChangeBackAndLeavesTheNextOneFree(t *testing.T) {
	db, err := Open(context.Background(), t.TempDir())
	require.NoError(t, err)
	ctx, cancel := context.WithTimeout(context.Background(), 10*time.Second)
	defer cancel()
	for range 10 { // more often than there are connections
		assert.PanicsWithValue(t, "a fault", func() {
			_ = db.Write(ctx, func(tx *Tx) error {
				_, err := tx.AddPerson("Nobody", role.Maker)
				require.NoError(t, err)
				panic("a fault")
			})
		})
		assert.Panics(t, func() { _ = db.Read(ctx, func(*Tx) error { panic("a fault") }) })
	}
	require.NoError(t, db.Write(ctx, func(tx *Tx) error {
		_, err := tx.AddPerson("Ida", role.Maker)
		return err
	}))
	require.NoError(t, db.Read(ctx, func(tx *Tx) error {
		people, err := tx.People()
		if assert.Len(t, people, 1) {
			assert.Equal(t, "Ida", people[0].Name)
		}
		return err
	}))
	require.NoError(t, db.Close())
}
