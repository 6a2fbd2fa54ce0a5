package backup

import (
	"bufio"
	"bytes"
	"context"
	"encoding/base64"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"os"
	"path/filepath"
	"time"

	"ashshelf/store"
)

// ShopFormat names the open file of a whole shop.
const ShopFormat = "ashshelf.shop/1"

// Export writes the whole shop of a folder in the open format [ShopFormat]: every record
// with its number, what follows from the records, and the pictures. It may run while the
// shop works. What lets somebody in (the marks of browsers, the address of the calendar)
// is left out, and so is what is typed and not recorded.
func Export(ctx context.Context, dir, program string, now time.Time, to io.Writer) error {
	work, err := os.MkdirTemp(dir, WorkFolder)
	if err != nil {
		return fmt.Errorf("data folder: %w", err)
	}
	defer os.RemoveAll(work)
	records := filepath.Join(work, store.File)
	if err := store.Snapshot(ctx, dir, records); err != nil {
		return err
	}
	return exportFile(ctx, records, filepath.Join(dir, PhotoFolder), program, now, to)
}

// exportFile is Export for a file of records that nobody writes to.
func exportFile(ctx context.Context, records, photos, program string, now time.Time, to io.Writer) error {
	in, err := store.Inspect(ctx, records)
	if err != nil {
		return err
	}
	w := bufio.NewWriter(to)
	head, err := json.MarshalIndent(struct {
		Format   string    `json:"format"`
		Exported time.Time `json:"exported_at"`
		Program  string    `json:"program"`
		Schema   int64     `json:"schema"`
	}{ShopFormat, now.UTC().Truncate(time.Second), program, in.Schema}, "", " ")
	if err != nil {
		return fmt.Errorf("export: %w", err)
	}
	fmt.Fprintf(w, "%s,\n \"records\": {", bytes.TrimSuffix(head, []byte("\n}")))
	table := ""
	err = store.Rows(ctx, records, func(t store.Table, row store.Row) error {
		switch {
		case table == "":
			fmt.Fprintf(w, "\n  %q: [\n   ", t.Name)
		case table != t.Name:
			fmt.Fprintf(w, "],\n  %q: [\n   ", t.Name)
		default:
			fmt.Fprint(w, ",\n   ")
		}
		table = t.Name
		return writeRow(w, row)
	})
	if err != nil {
		return err
	}
	if table != "" {
		fmt.Fprint(w, "]")
	}
	fmt.Fprint(w, "\n },\n \"photos\": {")
	first := true
	for _, name := range in.Photos {
		picture, err := os.ReadFile(filepath.Join(photos, name))
		if errors.Is(err, os.ErrNotExist) {
			continue // it is missing here, too
		}
		if err != nil {
			return fmt.Errorf("photo: %w", err)
		}
		if !first {
			fmt.Fprint(w, ",")
		}
		first = false
		fmt.Fprintf(w, "\n  %q: %q", name, base64.StdEncoding.EncodeToString(picture))
	}
	fmt.Fprint(w, "\n }\n}\n")
	if err := w.Flush(); err != nil {
		return fmt.Errorf("export: %w", err)
	}
	return nil
}

// writeRow writes a row on one line. What is itself written as JSON in the records is
// written as it is, when it comes back the same.
func writeRow(w *bufio.Writer, row store.Row) error {
	for i, name := range row.Columns {
		sep := ", "
		if i == 0 {
			sep = "{"
		}
		var text []byte
		switch v := row.Values[i].(type) {
		case string:
			if text = nested(v); text == nil {
				var err error
				if text, err = plain(v); err != nil {
					return err
				}
			}
		default:
			var err error
			if text, err = json.Marshal(v); err != nil {
				return fmt.Errorf("column %s: %w", name, err)
			}
		}
		fmt.Fprintf(w, "%s%q: %s", sep, name, text)
	}
	return w.WriteByte('}')
}

// nested is a text that is an object or a list of JSON, written as tightly as can be; nil
// for any other.
func nested(text string) []byte {
	if text == "" || text[0] != '{' && text[0] != '[' {
		return nil
	}
	var b bytes.Buffer
	if err := json.Compact(&b, []byte(text)); err != nil || b.String() != text {
		return nil
	}
	return b.Bytes()
}

// plain writes a text as a text.
func plain(text string) ([]byte, error) {
	var b bytes.Buffer
	e := json.NewEncoder(&b)
	e.SetEscapeHTML(false)
	if err := e.Encode(text); err != nil {
		return nil, fmt.Errorf("text: %w", err)
	}
	return bytes.TrimSuffix(b.Bytes(), []byte("\n")), nil
}
