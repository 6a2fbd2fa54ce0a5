package plan

import (
	"strings"

	"ashshelf/soap/additive"
	"ashshelf/soap/fat"
	"ashshelf/soap/liquid"
)

// Key names an item of a pot: what it is and, for a part of a fat or a liquid that is set
// apart, which use it is for. It is unique in a sheet, and it is what is on record of each
// weighing: "fat:olive-oil", "alkali:naoh", "liquid:water;for:Pink clay". How it is written
// never changes.
type Key string

// ItemKind is what an item is.
type ItemKind string

// The kinds of items.
const (
	AlkaliItem   ItemKind = "alkali"
	LiquidItem   ItemKind = "liquid"
	FatItem      ItemKind = "fat"
	AdditiveItem ItemKind = "additive"
	StockItem    ItemKind = "stock" // drawn from a container that was made ahead
	ScrapsItem   ItemKind = "scraps"
)

// Keys that every pot may have.
const (
	NaOHKey     Key = "alkali:naoh"
	KOHKey      Key = "alkali:koh"
	StockKey    Key = "stock:lye"
	FatStockKey Key = "stock:fats"
	ScrapsKey   Key = "scraps:soap"
)

// FatKey names a fat.
func FatKey(f fat.Fat) Key { return FatKeyOf(f.Key()) }

// FatKeyOf names a fat by its own key.
func FatKeyOf(fat string) Key { return keyOf(FatItem, fat) }

// LiquidKey names a liquid.
func LiquidKey(l liquid.Liquid) Key { return keyOf(LiquidItem, l.Slug) }

// LiquidKeyOf names a liquid by its slug.
func LiquidKeyOf(slug string) Key { return keyOf(LiquidItem, slug) }

// AdditiveKey names an additive, a colour or a scent by the use it is put to.
func AdditiveKey(u additive.Use) Key { return keyOf(AdditiveItem, u.Key()) }

func keyOf(kind ItemKind, ingredient string) Key { return Key(string(kind) + ":" + ingredient) }

// apartFor is between an ingredient and the use that a part of it is set apart for.
const apartFor = ";for:"

// Apart names the part of an ingredient that is set apart for a use.
func (k Key) Apart(u additive.Use) Key { return k + apartFor + Key(u.Key()) }

// Ingredient names the ingredient whether or not it is set apart.
func (k Key) Ingredient() Key {
	of, _, _ := strings.Cut(string(k), apartFor)
	return Key(of)
}

// Kind is what the item is.
func (k Key) Kind() ItemKind {
	kind, _, _ := strings.Cut(string(k), ":")
	return ItemKind(kind)
}

// Fat is the fat's own key; false for what is no fat.
func (k Key) Fat() (string, bool) {
	return strings.CutPrefix(string(k.Ingredient()), string(FatItem)+":")
}

// Alkali reports whether it is lye, dry or drawn.
func (k Key) Alkali() bool { return k.Kind() == AlkaliItem || k == StockKey }
