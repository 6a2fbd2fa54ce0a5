// Package past holds made-up shops as the programs of earlier schemas left them,
// packed, so that tests can see that their records are read for ever. None is ever
// replaced; a new schema that lands adds one.
package past

import (
	"bytes"
	"compress/gzip"
	"embed"
	"fmt"
	"io"
	"os"
	"path/filepath"
)

//go:embed *.db.gz
var files embed.FS

// Newest is the newest schema there is a shop of; the first is 1.
const Newest = 19

// Unpack writes the database of the shop of a schema as a file of a folder.
func Unpack(schema int, dir, name string) error {
	packed, err := files.ReadFile(fmt.Sprintf("schema-%02d.db.gz", schema))
	if err != nil {
		return fmt.Errorf("past shop: %w", err)
	}
	r, err := gzip.NewReader(bytes.NewReader(packed))
	if err != nil {
		return fmt.Errorf("past shop: %w", err)
	}
	body, err := io.ReadAll(r)
	if err != nil {
		return fmt.Errorf("past shop: %w", err)
	}
	if err := os.WriteFile(filepath.Join(dir, name), body, 0o600); err != nil {
		return fmt.Errorf("past shop: %w", err)
	}
	return nil
}
