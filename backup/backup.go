// Package backup keeps the shop when its laptop is gone.
//
// A copy is one file: a zip archive with the records as they stood at one moment, the
// pictures, and a manifest that says what is in it and the digest of each. It is made while
// the shop works, looked through before it gets its name, and can be sealed, so that only
// the owner's passphrase opens it; making one needs no passphrase. Copies are made by hand,
// by themselves once a day, and before a newer program changes the records.
//
// A copy is restored by looking through all of it before anything is touched. What stood
// there is put aside, not deleted. The shop begins a new life then: what browsers of the old
// one still have is refused and shown.
//
// The whole shop also goes into an open file and comes back from it, record by record.
package backup

import (
	"archive/zip"
	"context"
	"crypto/sha256"
	"encoding/hex"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"os"
	"path/filepath"
	"strings"
	"time"

	"ashshelf/store"
	"ashshelf/store/disk"
)

// Format names a copy.
const Format = "ashshelf.copy/1"

// PhotoFolder is the folder of the pictures, in a data folder and in a copy.
const PhotoFolder = store.PhotoFolder

// WorkFolder begins the names of what is prepared in the data folder and swept away later.
const WorkFolder = "copying-"

const manifestName = "manifest.json"

// Manifest says what is in a copy.
type Manifest struct {
	Format  string    `json:"format"`
	Program string    `json:"program"`
	Schema  int64     `json:"schema"`
	Shop    string    `json:"shop"`
	Made    time.Time `json:"made_at"`
	Lots    int       `json:"lots"`
	LastLot int       `json:"last_lot"` // number of the newest, 0 for none
	Files   []File    `json:"files"`
	Missing []string  `json:"missing,omitempty"` // pictures that were gone already
}

// File is a file of a copy.
type File struct {
	Name   string `json:"name"`
	Bytes  int64  `json:"bytes"`
	SHA256 string `json:"sha256"`
}

// Made is a copy that was made.
type Made struct {
	Manifest Manifest
	Path     string
	Bytes    int64
	SHA256   string // of the file as it lies there
	Sealed   bool
}

// Make writes a copy of the shop in a folder to a file, sealed when a seal is given. The
// file is whole or not there; an older copy of the name is replaced, another file is not.
func Make(ctx context.Context, dir, program string, now time.Time, to string, seal *Seal) (made Made, err error) {
	if err := replaceable(to); err != nil {
		return made, err
	}
	if err := sweep(dir, now); err != nil {
		return made, err
	}
	work, err := os.MkdirTemp(dir, WorkFolder)
	if err != nil {
		return made, fmt.Errorf("data folder: %w", err)
	}
	defer func() { err = errors.Join(err, os.RemoveAll(work)) }()
	records := filepath.Join(work, store.File)
	if err := store.Snapshot(ctx, dir, records); err != nil {
		return made, err
	}
	in, err := store.Inspect(ctx, records)
	if err != nil {
		return made, fmt.Errorf("the copy is not sound and was not kept: %w", err)
	}
	made.Manifest = Manifest{
		Format: Format, Program: program, Schema: in.Schema, Shop: in.Shop,
		Made: now.UTC().Truncate(time.Second), Lots: in.Lots, LastLot: in.Last,
	}
	sources := map[string]string{store.File: records}
	names := []string{store.File}
	for _, photo := range in.Photos {
		name := PhotoFolder + "/" + photo
		if _, err := os.Stat(filepath.Join(dir, PhotoFolder, photo)); errors.Is(err, os.ErrNotExist) {
			made.Manifest.Missing = append(made.Manifest.Missing, photo) // the records matter more
			continue
		}
		sources[name], names = filepath.Join(dir, PhotoFolder, photo), append(names, name)
	}
	for _, name := range names {
		f := File{Name: name}
		if f.Bytes, f.SHA256, err = digestOf(sources[name]); err != nil {
			return made, err
		}
		made.Manifest.Files = append(made.Manifest.Files, f)
	}
	plain := filepath.Join(work, "copy.zip")
	if err := writeZip(plain, made.Manifest, sources); err != nil {
		return made, err
	}
	if err := verify(plain); err != nil {
		return made, fmt.Errorf("the copy is not sound and was not kept: %w", err)
	}
	half := to + ".half"
	defer func() {
		if err != nil {
			if gone := os.Remove(half); gone != nil && !errors.Is(gone, os.ErrNotExist) {
				err = errors.Join(err, gone)
			}
		}
	}()
	if made.Sealed = seal != nil; made.Sealed {
		err = seal.close(plain, half)
	} else {
		err = copyFile(plain, half)
	}
	if err != nil {
		return made, fmt.Errorf("write the copy: %w", err)
	}
	if made.Bytes, made.SHA256, err = digestOf(half); err != nil {
		return made, err
	}
	if err := disk.Settle(half, to); err != nil {
		return made, fmt.Errorf("write the copy: %w", err)
	}
	made.Path = to
	return made, nil
}

// ErrNotOurs says that a file would be overwritten that this program did not write.
var ErrNotOurs = errors.New("there is another file of that name; choose another name, or take it away")

// replaceable refuses a file that is no copy.
func replaceable(path string) error {
	if _, err := os.Lstat(path); errors.Is(err, os.ErrNotExist) || Sealed(path) {
		return nil
	}
	a, err := openZip(path)
	if err != nil {
		return fmt.Errorf("%s: %w", path, ErrNotOurs)
	}
	return a.close()
}

// sweep takes away what a copy left that was cut off days ago; a younger one may be in the
// making.
func sweep(dir string, now time.Time) error {
	left, err := filepath.Glob(filepath.Join(dir, WorkFolder+"*"))
	if err != nil {
		return fmt.Errorf("data folder: %w", err)
	}
	for _, path := range left {
		info, err := os.Stat(path)
		if err != nil || now.Sub(info.ModTime()) < 2*daily {
			continue // it went meanwhile, or is young
		}
		if err := os.RemoveAll(path); err != nil {
			return fmt.Errorf("data folder: %w", err)
		}
	}
	return nil
}

// digestOf reads a file to its end.
func digestOf(path string) (bytes int64, digest string, err error) {
	f, err := os.Open(path)
	if err != nil {
		return 0, "", fmt.Errorf("copy: %w", err)
	}
	defer f.Close()
	sum := sha256.New()
	if bytes, err = io.Copy(sum, f); err != nil {
		return 0, "", fmt.Errorf("copy: %w", err)
	}
	return bytes, hex.EncodeToString(sum.Sum(nil)), nil
}

func copyFile(from, to string) error {
	in, err := os.Open(from)
	if err != nil {
		return err
	}
	defer in.Close()
	out, err := os.OpenFile(to, os.O_CREATE|os.O_TRUNC|os.O_WRONLY, 0o600)
	if err != nil {
		return err
	}
	_, err = io.Copy(out, in)
	return errors.Join(err, out.Close())
}

// writeZip writes an archive with its manifest first.
func writeZip(path string, m Manifest, sources map[string]string) (err error) {
	out, err := os.OpenFile(path, os.O_CREATE|os.O_EXCL|os.O_WRONLY, 0o600)
	if err != nil {
		return fmt.Errorf("copy: %w", err)
	}
	defer func() { err = errors.Join(err, out.Close()) }()
	z := zip.NewWriter(out)
	head, err := json.MarshalIndent(m, "", " ")
	if err != nil {
		return fmt.Errorf("copy: %w", err)
	}
	add := func(name string, method uint16, from io.Reader) error {
		w, err := z.CreateHeader(&zip.FileHeader{Name: name, Method: method, Modified: m.Made})
		if err != nil {
			return fmt.Errorf("copy: %w", err)
		}
		if _, err := io.Copy(w, from); err != nil {
			return fmt.Errorf("copy: %w", err)
		}
		return nil
	}
	if err := add(manifestName, zip.Deflate, strings.NewReader(string(head)+"\n")); err != nil {
		return err
	}
	for _, f := range m.Files {
		in, err := os.Open(sources[f.Name])
		if err != nil {
			return fmt.Errorf("copy: %w", err)
		}
		method := zip.Deflate
		if strings.HasPrefix(f.Name, PhotoFolder+"/") {
			method = zip.Store // a picture is small already
		}
		if err := errors.Join(add(f.Name, method, in), in.Close()); err != nil {
			return err
		}
	}
	if err := z.Close(); err != nil {
		return fmt.Errorf("copy: %w", err)
	}
	return nil
}
