package catalog

import (
	"context"

	"ashshelf/shop/document"
	"ashshelf/shop/journal"
	"ashshelf/store"
)

// Tool is one revision of a piece of equipment.
type Tool struct {
	store.Revision
	document.ToolBody
}

func asTool(r store.Revision) (Tool, error) {
	body, err := document.Decode("equipment "+r.Name, document.ReadTool, r.Body)
	return Tool{r, body}, err
}

// Tools returns the newest revision of all equipment, by name.
func (cat *Catalog) Tools(ctx context.Context) ([]Tool, error) {
	return ReadCollection(ctx, cat.Journal, func(tx *store.Tx) ([]store.Revision, error) { return tx.Latest(store.Tools) }, asTool)
}

// ToolHistory returns all revisions of a piece of equipment, newest first.
func (cat *Catalog) ToolHistory(ctx context.Context, oid string) ([]Tool, error) {
	return ReadCollection(ctx, cat.Journal, func(tx *store.Tx) ([]store.Revision, error) { return tx.History(store.Tools, oid) }, asTool)
}

// KeepTool makes a new revision of a piece of equipment, or a new one when base
// is 0.
func (cat *Catalog) KeepTool(
	ctx context.Context,
	act journal.Act,
	oid string,
	base int,
	name string,
	body document.ToolBody,
) (string, error) {
	if err := document.CheckTool(name, body).Err(); err != nil {
		return "", err
	}
	return cat.AddRevision(ctx, act, store.Tools, oid, base, name, "", "", body)
}

// CookerML is the largest cooker of the shop to the rim, 0 for none.
func CookerML(tx *store.Tx) (ml float64, err error) {
	revisions, err := tx.Latest(store.Tools)
	for _, r := range revisions {
		t, err := asTool(r)
		if err != nil {
			return 0, err
		}
		if t.Kind == document.Cooker && !t.Retired {
			ml = max(ml, t.ML)
		}
	}
	return ml, err
}

// CookerML is the largest cooker of the shop to the rim, 0 for none.
func (cat *Catalog) CookerML(ctx context.Context) (ml float64, err error) {
	err = cat.Read(ctx, func(tx *store.Tx) (err error) {
		ml, err = CookerML(tx)
		return err
	})
	return ml, err
}
