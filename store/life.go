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
}

// lifeFile is where it is written.
const lifeFile = "life.json"

// lifeLetters is how long its identity is: too long to be met again by chance in a shop.
const lifeLetters = 10

// NewLife is a life that nobody has lived yet.
func NewLife() Life { return Life{ID: strings.ToLower(rand.Text()[:lifeLetters])} }

// ReadLife reads the life of a folder; one of a program that knew none begins a life.
func ReadLife(dir string) (l Life, err error) {
	text, err := os.ReadFile(filepath.Join(dir, lifeFile))
	if errors.Is(err, fs.ErrNotExist) {
		l = NewLife()
		return l, WriteLife(dir, l)
	}
	if err != nil {
		return l, fmt.Errorf("life of the shop: %w", err)
	}
	if err := json.Unmarshal(text, &l); err != nil || l.ID == "" {
		return l, fmt.Errorf("%s is damaged: take it away, and all windows that are open have to be loaded again (%w)", lifeFile, err)
	}
	return l, nil
}

// WriteLife writes it down.
func WriteLife(dir string, l Life) error {
	text, err := json.MarshalIndent(l, "", " ")
	if err != nil {
		return fmt.Errorf("life of the shop: %w", err)
	}
	if err := WriteWhole(filepath.Join(dir, lifeFile), append(text, '\n')); err != nil {
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
