package shop

import (
	"bytes"
	"context"
	"crypto/sha256"
	"encoding/hex"
	"errors"
	"fmt"
	"image"
	"image/jpeg"
	_ "image/png" // what screenshots and some cameras give
	"io"
	"io/fs"
	"os"
	"path/filepath"
	"regexp"
	"strings"

	"github.com/kovidgoyal/imaging"
	_ "golang.org/x/image/webp" // what some phones give

	"ashshelf/soap/caution"
	"ashshelf/soap/lot"
	"ashshelf/store"
)

// Limits of a photo: bytes and pixels as it arrives, and the longer side it is
// kept at.
const (
	MostPhoto  = 20 << 20
	mostPixels = 60_000_000
	photoSide  = 1600
	quality    = 85
)

const photoFolder = "photos"

var photoName = regexp.MustCompile(`^[0-9a-f]{64}\.jpg$`)

// AddPhoto keeps a picture of a lot. It is turned upright, made smaller and
// written anew, which leaves behind what the camera noted of place and owner.
// The file, named by its content, is on the disk before its row.
func (s *Shop) AddPhoto(ctx context.Context, act Act, oid string, from io.Reader, caption string) error {
	file, size, err := s.keepPhoto(from)
	if err != nil {
		return err
	}
	return s.onLotWhere(ctx, act, oid, lot.ToPhoto, func(*change, *lot.Lot) error { return nil }, func(c *change, l *lot.Lot) error {
		entry, err := c.entry("photo")
		if err != nil {
			return err
		}
		return c.AddPhoto(entry, l.ID, lot.Photo{File: file, W: size.X, H: size.Y, Caption: strings.TrimSpace(caption)})
	})
}

func (s *Shop) keepPhoto(from io.Reader) (name string, size image.Point, err error) {
	bad := func(format string, args ...any) error {
		return caution.Problems{{Path: "photo", Text: fmt.Sprintf(format, args...)}}
	}
	raw, err := io.ReadAll(io.LimitReader(from, MostPhoto+1))
	if err != nil {
		return "", size, fmt.Errorf("read photo: %w", err)
	}
	if len(raw) > MostPhoto {
		return "", size, bad("the picture has more than %d MB", MostPhoto>>20)
	}
	config, _, err := image.DecodeConfig(bytes.NewReader(raw))
	if err != nil {
		return "", size, bad("choose a picture: JPEG, PNG or WebP")
	}
	if config.Width*config.Height > mostPixels {
		return "", size, bad("the picture has more than %d megapixels", mostPixels/1_000_000)
	}
	img, err := imaging.Decode(bytes.NewReader(raw), imaging.AutoOrientation(true), imaging.Backends(imaging.GO_IMAGE))
	if err != nil {
		return "", size, bad("this picture cannot be read; it may be damaged")
	}
	if b := img.Bounds(); max(b.Dx(), b.Dy()) > photoSide {
		img = imaging.Fit(img, photoSide, photoSide, imaging.Lanczos)
	}
	var out bytes.Buffer
	if err := jpeg.Encode(&out, img, &jpeg.Options{Quality: quality}); err != nil {
		return "", size, fmt.Errorf("write photo: %w", err)
	}
	sum := sha256.Sum256(out.Bytes())
	name = hex.EncodeToString(sum[:]) + ".jpg"
	return name, img.Bounds().Size(), writeFile(filepath.Join(s.dir, photoFolder), name, out.Bytes())
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
	f, err := os.CreateTemp(dir, "new-")
	if err != nil {
		return fmt.Errorf("photo file: %w", err)
	}
	_, err = f.Write(content)
	if err = errors.Join(err, f.Sync(), f.Close()); err == nil {
		err = os.Rename(f.Name(), path)
	}
	if err != nil {
		return fmt.Errorf("photo file: %w", errors.Join(err, os.Remove(f.Name())))
	}
	if err := store.SyncPath(dir); err != nil { // its name, too, before the record says that it is there
		return fmt.Errorf("photo folder: %w", err)
	}
	return nil
}

// Photo opens a photo that some lot has; [store.ErrNotFound] when none does.
func (s *Shop) Photo(ctx context.Context, name string) (*os.File, error) {
	missing := fmt.Errorf("photo %s: %w", name, store.ErrNotFound)
	if !photoName.MatchString(name) {
		return nil, missing
	}
	known := false
	if err := s.db.Read(ctx, func(tx *store.Tx) (err error) {
		known, err = tx.HasPhoto(name)
		return err
	}); err != nil {
		return nil, err
	}
	f, err := os.Open(filepath.Join(s.dir, photoFolder, name))
	if errors.Is(err, fs.ErrNotExist) || !known {
		return nil, missing
	}
	return f, err
}
