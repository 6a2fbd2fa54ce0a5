package backup

import (
	"bufio"
	"bytes"
	"context"
	"crypto/rand"
	"crypto/sha256"
	"encoding/base64"
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
)

// ErrNoShop says that a file is no shop in the open format, or not a sound one.
var ErrNoShop = errors.New("this is not a whole shop in the format " + ShopFormat)

// mostRow bounds a row of a file, in bytes.
const mostRow = 16 << 20

// Import makes an equal shop of an export in an empty folder, with the numbers that its
// records have, so that each seal still holds. Browsers are strangers to it, and its
// calendar gets a new address. Like one that is restored it begins a new life. A file that is
// not sound leaves the folder empty.
func Import(ctx context.Context, dir string, from io.Reader, how Restoring) (r Restored, err error) {
	if err := emptyFolder(dir); err != nil {
		return r, err
	}
	parent := filepath.Dir(filepath.Clean(dir))
	if err := os.MkdirAll(parent, 0o700); err != nil {
		return r, fmt.Errorf("folder: %w", err)
	}
	work, err := os.MkdirTemp(parent, filepath.Base(dir)+".import-")
	if err != nil {
		return r, fmt.Errorf("folder: %w", err)
	}
	defer func() { err = errors.Join(err, os.RemoveAll(work)) }()
	exported, err := readShop(ctx, work, from)
	if err != nil {
		return r, err
	}
	in, _, err := checkFolder(ctx, work)
	if err != nil {
		return r, fmt.Errorf("%w: %w", ErrNoShop, err)
	}
	r.Manifest = Manifest{Format: ShopFormat, Schema: in.Schema, Shop: in.Shop, Made: exported, Lots: in.Lots, LastLot: in.Last}
	if err := r.begin(work, how, 0, nil); err != nil {
		return r, err
	}
	if err := os.Remove(dir); err != nil && !errors.Is(err, os.ErrNotExist) {
		return r, fmt.Errorf("folder: %w", err)
	}
	if err := os.Rename(work, dir); err != nil {
		return r, fmt.Errorf("folder: %w", err)
	}
	return r, nil
}

// emptyFolder reports a folder that holds something.
func emptyFolder(dir string) error {
	files, err := os.ReadDir(dir)
	if errors.Is(err, os.ErrNotExist) {
		return nil
	}
	if err != nil {
		return fmt.Errorf("folder: %w", err)
	}
	if len(files) > 0 {
		return fmt.Errorf("%w: %s holds %s; choose an empty one", store.ErrNotEmpty, dir, files[0].Name())
	}
	return nil
}

// reader reads the tokens of a file in their order.
type reader struct{ *json.Decoder }

func (r reader) expect(want json.Delim) error {
	t, err := r.Token()
	if err != nil {
		return fmt.Errorf("%w: %w", ErrNoShop, err)
	}
	if t != want {
		return fmt.Errorf("%w: %v stands where %v is due", ErrNoShop, t, want)
	}
	return nil
}

func (r reader) name() (string, error) {
	t, err := r.Token()
	if err != nil {
		return "", fmt.Errorf("%w: %w", ErrNoShop, err)
	}
	s, ok := t.(string)
	if !ok {
		return "", fmt.Errorf("%w: %v stands where a name is due", ErrNoShop, t)
	}
	return s, nil
}

// value reads one value.
func (r reader) value(into any) error {
	if err := r.Decode(into); err != nil {
		return fmt.Errorf("%w: %w", ErrNoShop, err)
	}
	return nil
}

// readShop reads a file into a folder, and when it was written.
func readShop(ctx context.Context, dir string, from io.Reader) (exported time.Time, err error) {
	r := reader{json.NewDecoder(bufio.NewReaderSize(from, 1<<16))}
	r.UseNumber()
	if err := r.expect('{'); err != nil {
		return exported, err
	}
	head := map[string]any{}
	for {
		name, err := r.name()
		if err != nil {
			return exported, err
		}
		if name == "records" {
			break
		}
		var v any
		if err := r.value(&v); err != nil {
			return exported, err
		}
		head[name] = v
	}
	if head["format"] != ShopFormat {
		return exported, fmt.Errorf("%w: it says %v", ErrNoShop, head["format"])
	}
	moment, _ := head["exported_at"].(string)
	if exported, err = time.Parse(time.RFC3339, moment); err != nil {
		return exported, fmt.Errorf("%w: it does not say when it was written", ErrNoShop)
	}
	number, _ := head["schema"].(json.Number)
	schema, err := number.Int64()
	newest, fault := store.Schema()
	switch {
	case fault != nil:
		return exported, fault
	case err != nil || schema < 1:
		return exported, fmt.Errorf("%w: it says no schema", ErrNoShop)
	case schema > newest:
		return exported, fmt.Errorf("%w (schema %d, this program knows %d)", store.ErrNewer, schema, newest)
	}
	if err := store.Build(ctx, dir, schema, secret, func(insert func(store.Table, store.Row) error) error {
		return r.records(insert)
	}); err != nil {
		return exported, fmt.Errorf("%w: %w", ErrNoShop, err)
	}
	return exported, r.photos(filepath.Join(dir, PhotoFolder))
}

// secret is what nobody can guess.
func secret() string { return strings.ToLower(rand.Text()) }

// records reads the tables.
func (r reader) records(insert func(store.Table, store.Row) error) error {
	tables := map[string]store.Table{}
	for _, t := range store.Tables() {
		if t.Use != store.Local {
			tables[t.Name] = t
		}
	}
	if err := r.expect('{'); err != nil {
		return err
	}
	for r.More() {
		name, err := r.name()
		if err != nil {
			return err
		}
		t, ok := tables[name]
		if !ok {
			return fmt.Errorf("%w: there are no records of the kind %q", ErrNoShop, name)
		}
		delete(tables, name) // each once
		if err := r.expect('['); err != nil {
			return err
		}
		for r.More() {
			row, err := r.row()
			if err != nil {
				return err
			}
			if err := insert(t, row); err != nil {
				return err
			}
		}
		if err := r.expect(']'); err != nil {
			return err
		}
	}
	return r.expect('}')
}

// row reads a row as it is to be written.
func (r reader) row() (row store.Row, err error) {
	var raw json.RawMessage
	if err := r.value(&raw); err != nil {
		return row, err
	}
	if len(raw) > mostRow {
		return row, fmt.Errorf("%w: a record of %d bytes", ErrNoShop, len(raw))
	}
	in := reader{json.NewDecoder(bytes.NewReader(raw))}
	if err := in.expect('{'); err != nil {
		return row, err
	}
	for in.More() {
		name, err := in.name()
		if err != nil {
			return row, err
		}
		var v json.RawMessage
		if err := in.value(&v); err != nil {
			return row, err
		}
		value, err := valueOf(v)
		if err != nil {
			return row, err
		}
		row.Columns, row.Values = append(row.Columns, name), append(row.Values, value)
	}
	return row, nil
}

// valueOf reads a value: what is an object or a list is a text as it stands.
func valueOf(raw json.RawMessage) (any, error) {
	switch raw[0] {
	case '{', '[':
		return string(raw), nil
	case '"':
		var s string
		err := json.Unmarshal(raw, &s)
		return s, err
	case 'n':
		return nil, nil
	case 't', 'f':
		return nil, fmt.Errorf("%w: %s is no value of a record", ErrNoShop, raw)
	}
	n := json.Number(raw)
	if i, err := n.Int64(); err == nil {
		return i, nil
	}
	f, err := n.Float64()
	if err != nil {
		return nil, fmt.Errorf("%w: %w", ErrNoShop, err)
	}
	return f, nil
}

// photos reads the pictures.
func (r reader) photos(dir string) error {
	name, err := r.name()
	if err != nil {
		return err
	}
	if name != "photos" {
		return fmt.Errorf("%w: %q stands where the photos are due", ErrNoShop, name)
	}
	if err := r.expect('{'); err != nil {
		return err
	}
	for r.More() {
		name, err := r.name()
		if err != nil {
			return err
		}
		var text string
		if err := r.value(&text); err != nil {
			return err
		}
		picture, err := base64.StdEncoding.DecodeString(text)
		if err != nil {
			return fmt.Errorf("%w: photo %s: %w", ErrNoShop, name, err)
		}
		if sum := sha256.Sum256(picture); name != hex.EncodeToString(sum[:])+".jpg" && name != hex.EncodeToString(sum[:])+".pdf" {
			return fmt.Errorf("%w: photo %q is not what its name says", ErrNoShop, name)
		}
		if err := os.MkdirAll(dir, 0o700); err != nil {
			return fmt.Errorf("photos: %w", err)
		}
		if err := os.WriteFile(filepath.Join(dir, name), picture, 0o600); err != nil {
			return fmt.Errorf("photos: %w", err)
		}
	}
	if err := r.expect('}'); err != nil {
		return err
	}
	return r.expect('}')
}
