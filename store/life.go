package store

import (
	"crypto/rand"
	"encoding/json"
	"errors"
	"fmt"
	"io/fs"
	"os"
	"path/filepath"
	"strings"
	"time"

	"ashshelf/store/disk"
)

// PhotoFolder is the folder of the pictures in the data folder.
const PhotoFolder = "photos"

// Life is one life of a shop: from its first page, or from the copy that it was restored
// from, on. What a browser still has of an earlier life is not taken for this one's. It
// belongs to the folder and is in no copy and no export.
type Life struct {
	ID       string    `json:"id"`
	Restored time.Time `json:"restored,omitzero"` // zero for a first life
	Copied   time.Time `json:"copied,omitzero"`   // when the copy was made
	LastLot  int       `json:"last_lot,omitempty"`

	// When somebody had looked for what was recorded after the copy and is on paper alone.
	Looked time.Time `json:"looked,omitzero"`

	// Identities of buyers whose names were blanked: a copy from before has them still, and must not bring them back.
	Blanked []string `json:"blanked,omitempty"`
}

// Gap reports whether something may be missing that was recorded after the copy, and nobody
// has looked for it yet: a hold, a failed check, a lot that was called back.
func (l Life) Gap() bool { return !l.Restored.IsZero() && l.Looked.IsZero() }

// LifeFile is where the life of a shop is written, in its data folder.
const LifeFile = "life.json"

// lifeLetters is how long its identity is: too long to be met again by chance in a shop.
const lifeLetters = 10

// NewLife is a life that nobody has lived yet.
func NewLife() Life { return Life{ID: strings.ToLower(rand.Text()[:lifeLetters])} }

// ReadLife reads the life of a folder; one of a program that knew none begins a life.
func ReadLife(dir string) (l Life, err error) {
	text, err := os.ReadFile(filepath.Join(dir, LifeFile))
	if errors.Is(err, fs.ErrNotExist) {
		l = NewLife()
		return l, WriteLife(dir, l)
	}
	if err != nil {
		return l, fmt.Errorf("life of the shop: %w", err)
	}
	if err := json.Unmarshal(text, &l); err != nil || l.ID == "" {
		return l, fmt.Errorf("%s is damaged: bring the newest copy back once more, which makes a new one (%w)", LifeFile, err)
	}
	return l, nil
}

// WriteLife writes it down.
func WriteLife(dir string, l Life) error {
	text, err := json.MarshalIndent(l, "", " ")
	if err != nil {
		return fmt.Errorf("life of the shop: %w", err)
	}
	if err := WriteWhole(filepath.Join(dir, LifeFile), append(text, '\n')); err != nil {
		return fmt.Errorf("life of the shop: %w", err)
	}
	return nil
}

// WriteWhole writes a small file whole, or leaves what was there.
func WriteWhole(path string, content []byte) error {
	half := path + ".half"
	if err := os.WriteFile(half, content, 0o600); err != nil {
		return err
	}
	return disk.Settle(half, path)
}
