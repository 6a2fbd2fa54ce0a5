package document

import (
	"ashshelf/soap/fat"
	"ashshelf/soap/lye"
)

// Kinds of what is kept in a container.
const (
	NaOH = "naoh"
	KOH  = "koh"
	Fats = "fats"
)

// StockBody is what a container was filled with, as weighed.
type StockBody struct {
	Target    float64 // strength aimed for, percent
	Purity    float64
	AlkaliG   float64
	WaterG    float64
	Lot       string // of the supplier
	Blend     fat.Blend
	Container string
	ML        float64
	Material  lye.Material
	Tare      float64 // g, empty with its cap
	PeakC     float64
	Note      string
}
