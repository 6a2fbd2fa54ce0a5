package lots

import (
	"bytes"
	"context"
	"crypto/sha256"
	"encoding/hex"
	"errors"
	"fmt"
	"image"
	"io"
	"io/fs"
	"os"
	"path/filepath"
	"regexp"
	"strings"

	"ashshelf/photo"
	"ashshelf/soap/caution"
	"ashshelf/store"
	"ashshelf/store/disk"
)

// MostPhoto is how many bytes a photo may have as it arrives.
const MostPhoto = photo.MostBytes

// Quotas of photos: records come first, so pictures leave them room.
const (
	mostPhotos = 60        // of a lot
	leastFree  = 500 << 20 // bytes that a picture leaves on the disk
)

// Takes finds out whether a lot takes one more photo, and the disk with it.
func (r *Reader) Takes(have int) error {
	if have >= mostPhotos {
		return caution.Problems{{Path: "photo", Text: fmt.Sprintf("this lot has %d pictures, as many as a lot keeps", have)}}
	}
	left, err := r.free(filepath.Dir(r.folder))
	if err != nil {
		return fmt.Errorf("room for a photo: %w", err)
	}
	if left < leastFree {
		return caution.Problems{{Path: "photo", Text: fmt.Sprintf(
			"the disk with the records has %d MB left, which are kept for records; free some space, then send the picture again", left>>20)}}
	}
	return nil
}

var photoName = regexp.MustCompile(`^[0-9a-f]{64}\.(jpg|pdf)$`)

// KeepPhoto writes a picture, made smaller and without what the camera noted, into the
// folder and says by which name.
func (r *Reader) KeepPhoto(from io.Reader) (name string, size image.Point, err error) {
	raw, err := io.ReadAll(io.LimitReader(from, MostPhoto+1))
	if err != nil {
		return "", size, fmt.Errorf("read photo: %w", err)
	}
	kept, size, err := photo.Keep(raw)
	var refused *photo.Refused
	if errors.As(err, &refused) {
		return "", size, caution.Problems{{Path: "photo", Text: refused.Why}}
	}
	if err != nil {
		return "", size, err
	}
	sum := sha256.Sum256(kept)
	name = hex.EncodeToString(sum[:]) + ".jpg"
	err = writeFile(r.folder, name, kept)
	r.NoteDisk(err)
	return name, size, err
}

// KeepPaper writes a certificate or an invoice into the folder: a picture of it as [Reader.KeepPhoto] does, a PDF as
// it is.
func (r *Reader) KeepPaper(from io.Reader) (name string, err error) {
	raw, err := io.ReadAll(io.LimitReader(from, MostPhoto+1))
	if err != nil {
		return "", fmt.Errorf("read paper: %w", err)
	}
	if !bytes.HasPrefix(raw, []byte("%PDF-")) {
		name, _, err = r.KeepPhoto(bytes.NewReader(raw))
		return name, err
	}
	if len(raw) > MostPhoto {
		return "", caution.Problems{{Path: "photo", Text: fmt.Sprintf("the file has more than %d MB", MostPhoto>>20)}}
	}
	sum := sha256.Sum256(raw)
	name = hex.EncodeToString(sum[:]) + ".pdf"
	err = writeFile(r.folder, name, raw)
	r.NoteDisk(err)
	return name, err
}

// halfPhoto begins the names of files that are not whole yet.
const halfPhoto = "new-"

// SweepPhotos takes away files that were cut off while they were written, and those of
// which no row tells, since the row was never written.
func (r *Reader) SweepPhotos(ctx context.Context) error {
	files, err := os.ReadDir(r.folder)
	if errors.Is(err, fs.ErrNotExist) {
		return nil
	}
	if err != nil {
		return fmt.Errorf("photo folder: %w", err)
	}
	return r.Read(ctx, func(tx *store.Tx) error {
		for _, f := range files {
			if !strings.HasPrefix(f.Name(), halfPhoto) && !photoName.MatchString(f.Name()) {
				continue // somebody else's
			}
			known, err := tx.HasPhoto(f.Name())
			if err != nil || known {
				if err != nil {
					return err
				}
				continue
			}
			if err := os.Remove(filepath.Join(r.folder, f.Name())); err != nil {
				return fmt.Errorf("photo folder: %w", err)
			}
		}
		return nil
	})
}

// writeFile puts a file in a folder, whole and on the disk, or not at all.
func writeFile(dir, name string, content []byte) error {
	if err := os.MkdirAll(dir, 0o700); err != nil {
		return fmt.Errorf("photo folder: %w", err)
	}
	path := filepath.Join(dir, name)
	if _, err := os.Stat(path); err == nil {
		return nil // the same picture is there already
	}
	f, err := os.CreateTemp(dir, halfPhoto)
	if err != nil {
		return fmt.Errorf("photo file: %w", err)
	}
	_, err = f.Write(content)
	if err = errors.Join(err, f.Close()); err == nil {
		err = disk.Settle(f.Name(), path)
	}
	if err != nil {
		return fmt.Errorf("photo file: %w", errors.Join(err, removed(f.Name())))
	}
	return nil
}

// removed takes a half file away, if it is there.
func removed(name string) error {
	if err := os.Remove(name); !errors.Is(err, fs.ErrNotExist) {
		return err
	}
	return nil
}

// Photo opens a photo that some lot has, or a paper of a delivery; [store.ErrNotFound] when none does.
func (r *Reader) Photo(ctx context.Context, name string) (*os.File, error) {
	missing := fmt.Errorf("photo %s: %w", name, store.ErrNotFound)
	if !photoName.MatchString(name) {
		return nil, missing
	}
	known := false
	if err := r.Read(ctx, func(tx *store.Tx) (err error) {
		known, err = tx.HasPhoto(name)
		return err
	}); err != nil {
		return nil, err
	}
	f, err := os.Open(filepath.Join(r.folder, name))
	if errors.Is(err, fs.ErrNotExist) || !known {
		return nil, missing
	}
	return f, err
}
