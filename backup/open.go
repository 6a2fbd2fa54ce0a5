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
	"regexp"
	"slices"

	"ashshelf/store"
)

// Errors of files that are to be restored.
var (
	ErrNoCopy = errors.New("this is no copy of a shop")
	ErrBroken = errors.New("the copy is damaged")
)

// mostManifest bounds a manifest, in bytes: a shop of a hundred thousand pictures.
const mostManifest = 32 << 20

// inACopy is what a copy may hold beside its manifest.
var inACopy = regexp.MustCompile(`^(shop\.db|photos/[0-9a-f]{64}\.(jpg|pdf))$`)

// archive is an open copy.
type archive struct {
	zip *zip.ReadCloser
	Manifest
}

func (a *archive) close() error { return a.zip.Close() }

// openZip opens a copy that is not sealed and reads its manifest, which must say of each
// file in it what it is, and nothing else.
func openZip(path string) (a *archive, err error) {
	z, err := zip.OpenReader(path)
	if errors.Is(err, os.ErrNotExist) || errors.Is(err, os.ErrPermission) {
		return nil, fmt.Errorf("open the copy: %w", err)
	}
	if err != nil {
		return nil, fmt.Errorf("%w: %w", ErrNoCopy, err)
	}
	defer func() {
		if err != nil {
			err = errors.Join(err, z.Close())
		}
	}()
	a = &archive{zip: z}
	f, err := z.Open(manifestName)
	if err != nil {
		return nil, fmt.Errorf("%w: it has no manifest", ErrNoCopy)
	}
	text, err := io.ReadAll(io.LimitReader(f, mostManifest))
	if err := errors.Join(err, f.Close()); err != nil {
		return nil, fmt.Errorf("%w: %w", ErrBroken, err)
	}
	if err := json.Unmarshal(text, &a.Manifest); err != nil || a.Format != Format {
		return nil, fmt.Errorf("%w: its manifest is none of %s", ErrNoCopy, Format)
	}
	newest, err := store.Schema()
	if err != nil {
		return nil, err
	}
	if a.Schema > newest {
		return nil, fmt.Errorf("%w (schema %d, this program knows %d)", store.ErrNewer, a.Schema, newest)
	}
	said := map[string]bool{manifestName: true}
	for _, f := range a.Files {
		if !inACopy.MatchString(f.Name) || said[f.Name] || f.Bytes < 0 {
			return nil, fmt.Errorf("%w: %q has no business in it", ErrBroken, f.Name)
		}
		said[f.Name] = true
	}
	if !said[store.File] {
		return nil, fmt.Errorf("%w: it has no records", ErrBroken)
	}
	for _, f := range z.File {
		if !said[f.Name] {
			return nil, fmt.Errorf("%w: its manifest does not know %q", ErrBroken, f.Name)
		}
	}
	return a, nil
}

// read reads a file of the archive to its end and holds it to the manifest.
func (a *archive) read(f File, to io.Writer) error {
	broken := func(why string) error { return fmt.Errorf("%w: %s %s", ErrBroken, f.Name, why) }
	at := slices.IndexFunc(a.zip.File, func(z *zip.File) bool { return z.Name == f.Name })
	if at < 0 {
		return broken("is missing")
	}
	in, err := a.zip.File[at].Open()
	if err != nil {
		return broken("cannot be read: " + err.Error())
	}
	defer in.Close()
	sum := sha256.New()
	n, err := io.Copy(io.MultiWriter(to, sum), io.LimitReader(in, f.Bytes+1))
	switch {
	case err != nil:
		return broken("cannot be read: " + err.Error())
	case n != f.Bytes:
		return broken(fmt.Sprintf("has another length than the %d bytes it should have", f.Bytes))
	case hex.EncodeToString(sum.Sum(nil)) != f.SHA256:
		return broken("is not what it was when the copy was made")
	}
	return nil
}

// verify reads a whole copy.
func verify(path string) (err error) {
	a, err := openZip(path)
	if err != nil {
		return err
	}
	defer func() { err = errors.Join(err, a.close()) }()
	for _, f := range a.Files {
		if err := a.read(f, io.Discard); err != nil {
			return err
		}
	}
	return nil
}

// unpack writes a whole copy into an empty folder and holds all of it to its manifest, the
// records to their references, and each picture to its name.
func unpack(ctx context.Context, path, dir string) (m Manifest, err error) {
	a, err := openZip(path)
	if err != nil {
		return m, err
	}
	defer func() { err = errors.Join(err, a.close()) }()
	if err := os.MkdirAll(filepath.Join(dir, PhotoFolder), 0o700); err != nil {
		return m, fmt.Errorf("folder: %w", err)
	}
	for _, f := range a.Files {
		if err := ctx.Err(); err != nil {
			return m, err
		}
		out, err := os.OpenFile(filepath.Join(dir, filepath.FromSlash(f.Name)), os.O_CREATE|os.O_EXCL|os.O_WRONLY, 0o600)
		if err != nil {
			return m, fmt.Errorf("folder: %w", err)
		}
		err = a.read(f, out)
		if err := errors.Join(err, out.Sync(), out.Close()); err != nil {
			return m, err
		}
	}
	in, missing, err := checkFolder(ctx, dir)
	if err != nil {
		return m, fmt.Errorf("%w: %w", ErrBroken, err)
	}
	if !slices.Equal(missing, a.Missing) {
		return m, fmt.Errorf("%w: pictures are missing that it should have", ErrBroken)
	}
	if in.Schema != a.Schema || in.Lots != a.Lots || in.Last != a.LastLot {
		return m, fmt.Errorf("%w: its manifest tells of other records", ErrBroken)
	}
	return a.Manifest, nil
}

// checkFolder looks at all of a shop in a folder. missing are the pictures that lots have
// and that are not there; one that is there and is another is an error.
func checkFolder(ctx context.Context, dir string) (in store.Inspection, missing []string, err error) {
	in, err = store.Inspect(ctx, filepath.Join(dir, store.File))
	if err != nil {
		return in, nil, err
	}
	for _, name := range in.Photos {
		_, digest, err := digestOf(filepath.Join(dir, PhotoFolder, name))
		if errors.Is(err, os.ErrNotExist) {
			missing = append(missing, name)
			continue
		}
		if err != nil {
			return in, missing, err
		}
		if digest+".jpg" != name && digest+".pdf" != name {
			return in, missing, fmt.Errorf("%w: the picture %s is not what it was", store.ErrDamaged, name)
		}
	}
	return in, missing, nil
}

// CheckFolder says what a data folder holds, whether it is whole, and which pictures are
// missing. It may run while the shop works.
func CheckFolder(ctx context.Context, dir string) (in store.Inspection, missing []string, err error) {
	return checkFolder(ctx, dir)
}

// CheckFile reads a copy to its end and says what it holds. A sealed one needs its
// passphrase.
func CheckFile(ctx context.Context, path string, passphrase func() (string, error)) (m Manifest, err error) {
	work, err := os.MkdirTemp("", "ashshelf-check-")
	if err != nil {
		return m, fmt.Errorf("temporary folder: %w", err)
	}
	defer func() { err = errors.Join(err, os.RemoveAll(work)) }()
	plain, err := unseal(path, work, passphrase)
	if err != nil {
		return m, err
	}
	return unpack(ctx, plain, filepath.Join(work, "shop"))
}
