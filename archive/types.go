package archive

// Lot is lot.Frozen as it is written.
type Lot struct {
	Head
	Program   string    `json:"program"`
	Recipe    string    `json:"recipe"`
	Revision  int       `json:"revision"`
	Formula   Formula   `json:"formula"`
	Pot       Plan      `json:"pot"`
	Sheet     []Section `json:"sheet"`
	Molds     []LotMold `json:"molds"`
	Policy    Policy    `json:"policy"`
	Notes     string    `json:"notes,omitempty"`
	Unmold    Window    `json:"unmold"`
	Overrides string    `json:"overrides,omitempty"`
	Request   Request   `json:"request"`
	Expected  int       `json:"expected_bars,omitempty"`
	Scale     float64   `json:"scale_step"`
	Kind      string    `json:"kind,omitempty"`
	Stock     string    `json:"stock,omitempty"`
	FatStock  string    `json:"fat_stock,omitempty"`
}

// Formula is recipe.Formula as it is written.
type Formula struct {
	Name       string       `json:"name"`
	Fats       []Share      `json:"fats"`
	Alkali     Alkali       `json:"alkali"`
	Superfat   float64      `json:"superfat"`
	Water      Water        `json:"water"`
	Liquids    []LiquidPart `json:"liquids"`
	Additives  []Use        `json:"additives"`
	School     string       `json:"school,omitempty"`
	Scent      *Perfume     `json:"scent,omitempty"`
	Portions   []Portion    `json:"portions,omitempty"`
	Design     []Step       `json:"design,omitempty"`
	Infusions  []Infusion   `json:"infusions,omitempty"`
	Process    Process      `json:"process,omitzero"`
	FullLiquid float64      `json:"full_liquid,omitempty"`
	Molds      float64      `json:"molds,omitempty"`
	Dilution   *Dilution    `json:"dilution,omitempty"`
}

// Dilution is recipe.Dilution as it is written.
type Dilution struct {
	Soap     float64 `json:"soap"`
	Glycerin float64 `json:"glycerin,omitempty"`
}

// Share is fat.Share as it is written.
type Share struct {
	Fat       Fat     `json:"fat"`
	Percent   float64 `json:"percent"`
	AfterCook bool    `json:"after_cook,omitempty"`
}

// Fat is fat.Fat as it is written.
type Fat struct {
	Slug     string  `json:"slug,omitempty"`
	Name     string  `json:"name"`
	INCI     string  `json:"inci,omitempty"`
	Kind     string  `json:"kind"`
	Solid    bool    `json:"solid,omitempty"`
	MeltC    float64 `json:"melt_c,omitempty"`
	Density  float64 `json:"density"`
	SAPLow   float64 `json:"sap_low,omitempty"`
	SAPHigh  float64 `json:"sap_high,omitempty"`
	SAP      float64 `json:"sap"`
	Acids    Acids   `json:"acids"`
	MaxShare float64 `json:"max_share,omitempty"`
	Like     string  `json:"like,omitempty"`
	Mark     string  `json:"mark,omitempty"`

	Certified bool `json:"certified,omitempty"`
}

// Acids is fat.Acids as it is written.
type Acids struct {
	CaprylicCapric float64 `json:"caprylic_capric,omitempty"`
	Lauric         float64 `json:"lauric,omitempty"`
	Myristic       float64 `json:"myristic,omitempty"`
	Palmitic       float64 `json:"palmitic,omitempty"`
	Palmitoleic    float64 `json:"palmitoleic,omitempty"`
	Stearic        float64 `json:"stearic,omitempty"`
	Ricinoleic     float64 `json:"ricinoleic,omitempty"`
	Oleic          float64 `json:"oleic,omitempty"`
	Linoleic       float64 `json:"linoleic,omitempty"`
	Linolenic      float64 `json:"linolenic,omitempty"`
	LongChain      float64 `json:"long_chain,omitempty"`
}

// Alkali is lye.Alkali as it is written.
type Alkali struct {
	NaOHPercent float64 `json:"naoh_percent"`
	NaOHPurity  float64 `json:"naoh_purity"`
	KOHPurity   float64 `json:"koh_purity"`
}

// Water is recipe.Water as it is written.
type Water struct {
	Basis string  `json:"basis"`
	Value float64 `json:"value"`
}

// LiquidPart is recipe.Liquid as it is written.
type LiquidPart struct {
	Liquid  Liquid  `json:"liquid"`
	Percent float64 `json:"percent"`
	Carries bool    `json:"carries_lye"`
	Frozen  bool    `json:"frozen,omitempty"`
}

// Liquid is liquid.Liquid as it is written.
type Liquid struct {
	Slug     string  `json:"slug"`
	Name     string  `json:"name"`
	Water    float64 `json:"water"`
	Fat      float64 `json:"fat,omitempty"`
	FatSAP   float64 `json:"fat_sap,omitempty"`
	Lye      float64 `json:"lye,omitempty"`
	Plain    bool    `json:"plain,omitempty"`
	Note     string  `json:"note,omitempty"`
	BoilDown float64 `json:"boil_down,omitempty"`
}

// Use is additive.Use as it is written.
type Use struct {
	Name        string     `json:"name"`
	Stage       string     `json:"stage"`
	Basis       string     `json:"basis"`
	Rate        float64    `json:"rate"`
	GramsPerTsp float64    `json:"grams_per_tsp,omitempty"`
	Density     float64    `json:"density"`
	Lye         float64    `json:"lye,omitempty"`
	Neutral     bool       `json:"neutral,omitempty"`
	Behaviour   string     `json:"behaviour,omitempty"`
	Disperse    *Dispersal `json:"disperse,omitempty"`
	Mark        string     `json:"mark,omitempty"`
	Made        Made       `json:"made,omitzero"`
}

// Made is material.Composition as it is written.
type Made struct {
	Water    float64 `json:"water,omitempty"`
	Fat      float64 `json:"fat,omitempty"`
	FatSAP   float64 `json:"fat_sap,omitempty"`
	Salt     float64 `json:"salt,omitempty"`
	Sugar    float64 `json:"sugar,omitempty"`
	Protein  float64 `json:"protein,omitempty"`
	FreeAcid bool    `json:"free_acid,omitempty"`
	Lye      float64 `json:"lye,omitempty"`
}

// Dispersal is additive.Dispersal as it is written.
type Dispersal struct {
	In     string  `json:"in"`
	Spoons float64 `json:"spoons"`
	Own    bool    `json:"own,omitempty"`
}

// Perfume is additive.Perfume as it is written.
type Perfume struct {
	Rate    float64     `json:"rate"`
	Grams   float64     `json:"grams,omitempty"`
	Bottle  string      `json:"bottle,omitempty"`
	Stage   string      `json:"stage"`
	Parts   []ScentPart `json:"parts"`
	OverMax string      `json:"over_max,omitempty"`

	Portions []string `json:"portions,omitempty"`
}

// ScentPart is additive.ScentPart as it is written.
type ScentPart struct {
	Scent
	Percent float64 `json:"percent"`
}

// Scent is additive.Scent as it is written.
type Scent struct {
	Name     string  `json:"name"`
	Supplier string  `json:"supplier,omitempty"`
	Max      float64 `json:"max,omitempty"`
	MaxOf    string  `json:"max_of,omitempty"`
	Density  float64 `json:"density"`
	Stated   string  `json:"stated,omitempty"`
	Observed string  `json:"observed,omitempty"`
	Tint     string  `json:"tint,omitempty"`
	Mark     string  `json:"mark,omitempty"`
}

// Portion is recipe.Portion as it is written.
type Portion struct {
	Name      string  `json:"name"`
	Percent   float64 `json:"percent"`
	Tone      string  `json:"tone,omitempty"`
	Scraps    bool    `json:"scraps,omitempty"`
	Colorants []Use   `json:"colorants,omitempty"`
}

// Step is recipe.Step as it is written.
type Step struct {
	Do      string  `json:"do"`
	Portion string  `json:"portion,omitempty"`
	Into    string  `json:"into,omitempty"`
	Percent float64 `json:"percent,omitempty"`
	Note    string  `json:"note,omitempty"`
}

// Infusion is liquid.Infusion as it is written.
type Infusion struct {
	Fat      string  `json:"fat"`
	Herb     string  `json:"herb"`
	HerbPct  float64 `json:"herb_percent"`
	Loss     float64 `json:"loss"`
	Overage  float64 `json:"overage"`
	Hours    float64 `json:"hours"`
	Standing bool    `json:"standing,omitempty"`
}

// Process is recipe.Process as it is written.
type Process struct {
	Kind     string  `json:"kind,omitempty"`
	LyeC     float64 `json:"lye_c,omitempty"`
	FatsC    float64 `json:"fats_c,omitempty"`
	Trace    string  `json:"trace,omitempty"`
	Gel      string  `json:"gel,omitempty"`
	Cover    string  `json:"cover,omitempty"`
	Material string  `json:"mold,omitempty"`
	Opens    float64 `json:"unmold_from,omitempty"`
	Closes   float64 `json:"unmold_until,omitempty"`
}

// Plan is plan.Plan as it is written.
type Plan struct {
	Batches   int       `json:"batches"`
	Fats      []Row     `json:"fats"`
	FatsG     float64   `json:"fats_g"`
	NaOH      float64   `json:"naoh"`
	KOH       float64   `json:"koh"`
	Liquids   []Row     `json:"liquids"`
	LiquidG   float64   `json:"liquid_g"`
	Draw      *Draw     `json:"draw,omitempty"`
	FatDraw   float64   `json:"fat_draw,omitempty"`
	Additives []Row     `json:"additives"`
	BatterG   float64   `json:"batter_g"`
	Density   float64   `json:"density"`
	FatShare  float64   `json:"fats_pct"`
	Superfat  float64   `json:"superfat"`
	PeakC     float64   `json:"peak_c"`
	Cautions  []Caution `json:"cautions"`
	PerBatch  *Plan     `json:"per_batch,omitempty"`
	VolumeML  float64   `json:"volume_ml"`
	ScrapsG   float64   `json:"scraps_g,omitempty"`
	ScrapsML  float64   `json:"scraps_ml,omitempty"`
}

// Row is plan.Row as it is written.
type Row struct {
	Name  string  `json:"name"`
	Stage string  `json:"stage,omitempty"`
	Grams float64 `json:"grams"`
}

// Draw is plan.Draw as it is written.
type Draw struct {
	Solution    float64 `json:"solution"`
	Water       float64 `json:"water"`
	LiquidToAdd float64 `json:"liquid_to_add"`
}

// Caution is caution.Caution as it is written.
type Caution struct {
	Code   string `json:"code"`
	Level  string `json:"level"`
	Reason string `json:"reason"`
	Remedy string `json:"remedy,omitempty"`
}

// Section is plan.Section as it is written.
type Section struct {
	Place  string `json:"place,omitempty"` // since version 2 of what holds it
	Title  string `json:"title"`
	Items  []Item `json:"items"`
	Vessel string `json:"vessel,omitempty"`

	ByEye []string `json:"by_eye,omitempty"`
}

// Item is plan.Item as it is written.
type Item struct {
	Key       string  `json:"key"`
	Name      string  `json:"name"`
	Target    float64 `json:"target"`
	Tolerance float64 `json:"tolerance"`
	Decimals  int     `json:"decimals"`
	Note      string  `json:"note,omitempty"`
	Running   float64 `json:"running,omitempty"`
}

// LotMold is lot.Mold as it is written.
type LotMold struct {
	OID      string `json:"oid,omitempty"`
	Name     string `json:"name"`
	Material string `json:"material"`
	Mold     Shape  `json:"mold"`
	Count    int    `json:"count"`
	Bars     int    `json:"bars,omitempty"`
	Cut      Cut    `json:"cut,omitzero"`
}

// Shape is mold.Mold as it is written.
type Shape struct {
	Shape      string  `json:"shape"`
	Length     float64 `json:"length_mm,omitempty"`
	Width      float64 `json:"width_mm,omitempty"`
	Diameter   float64 `json:"diameter_mm,omitempty"`
	Fill       float64 `json:"fill_mm,omitempty"`
	Height     float64 `json:"height_mm,omitempty"`
	WaterG     float64 `json:"water_g,omitempty"`
	Cavities   int     `json:"cavities,omitempty"`
	Rows       int     `json:"rows,omitempty"`
	Cols       int     `json:"cols,omitempty"`
	Divider    float64 `json:"divider_mm,omitempty"`
	Outline    string  `json:"outline,omitempty"`
	ByWater    bool    `json:"by_water,omitempty"`
	Correction float64 `json:"correction,omitempty"`
}

// Cut is mold.Cut as it is written.
type Cut struct {
	Thickness float64 `json:"thickness_mm,omitempty"`
	Bars      int     `json:"bars,omitempty"`
	Loaves    int     `json:"loaves,omitempty"`
	Trim      float64 `json:"trim_mm,omitempty"`
	Halves    bool    `json:"halves,omitempty"`
	Cutter    string  `json:"cutter,omitempty"`
}

// Policy is cure.Policy as it is written.
type Policy struct {
	Code     string `json:"code"`
	Name     string `json:"name"`
	Days     int    `json:"days"`
	Until    int    `json:"until"`
	Why      string `json:"why"`
	Other    string `json:"other,omitempty"`
	CheckDay int    `json:"check_day,omitempty"`
}

// Window is cure.Window as it is written.
type Window struct {
	Opens  int64  `json:"Opens"`
	Best   int64  `json:"Best"`
	Closes int64  `json:"Closes"`
	Why    string `json:"Why"`
}

// Request is plan.Request as it is written.
type Request struct {
	Formula     Formula `json:"formula"`
	Target      Target  `json:"target"`
	Rule        string  `json:"fill_rule"`
	PotLoss     float64 `json:"pot_loss"`
	PotCapacity float64 `json:"pot_capacity"`
	Vessels     Vessels `json:"vessels,omitzero"`
	Scales
	Stock      *Stock    `json:"stock,omitempty"`
	StockShare float64   `json:"stock_share,omitempty"`
	FatStock   *FatStock `json:"fat_stock,omitempty"`
	LiquidC    float64   `json:"liquid_c"`
	Scraps     *Scraps   `json:"scraps,omitempty"`
	Into       int       `json:"into,omitempty"`
}

// Target is plan.Target as it is written.
type Target struct {
	Molds      []MoldCount `json:"molds,omitempty"`
	FatsG      float64     `json:"fats_g,omitempty"`
	BatterG    float64     `json:"batter_g,omitempty"`
	SoapG      float64     `json:"soap_g,omitempty"`
	Ingredient *Ingredient `json:"ingredient,omitempty"`
}

// MoldCount is plan.MoldCount as it is written.
type MoldCount struct {
	Mold  Shape `json:"mold"`
	Count int   `json:"count"`
}

// Ingredient is plan.Ingredient as it is written.
type Ingredient struct {
	Name  string  `json:"name"`
	Grams float64 `json:"grams"`
}

// Vessels is plan.Vessels as it is written.
type Vessels struct {
	Pot       Vessel  `json:"pot,omitzero"`
	Jug       Vessel  `json:"jug,omitzero"`
	Cooker    Vessel  `json:"cooker,omitzero"`
	RiskyLoad float64 `json:"risky_load,omitempty"`
}

// Vessel is plan.Vessel as it is written.
type Vessel struct {
	Name string  `json:"name,omitempty"`
	ML   float64 `json:"ml,omitempty"`
	Tare float64 `json:"tare,omitempty"`
}

// Scales is plan.Scales as it is written.
type Scales struct {
	Resolution float64 `json:"resolution"`
	FineStep   float64 `json:"fine_step,omitempty"`
	FineMax    float64 `json:"fine_max,omitempty"`
}

// Stock is lye.Stock as it is written.
type Stock struct {
	Strength float64 `json:"naoh_percent"`
	C        float64 `json:"temperature_c"`
	KOH      bool    `json:"koh,omitempty"`
	Name     string  `json:"name,omitempty"`
}

// FatStock is plan.FatStock as it is written.
type FatStock struct {
	Name  string  `json:"name"`
	Blend []Share `json:"blend"`
	Grams float64 `json:"grams"`
}

// Scraps is plan.Scraps as it is written.
type Scraps struct {
	Grams       float64 `json:"grams"`
	FatsPercent float64 `json:"fats_percent"`
	Density     float64 `json:"density"`
}

// Rescale is the sheet and the pot of a lot.Rescale as they are written; the rest of it has columns.
type Rescale struct {
	Head
	Sheet []Section `json:"sheet"`
	Pot   Plan      `json:"pot"`
}

// Rack is rack.Rack as it is written.
type Rack struct {
	Head
	Levels  int     `json:"levels"`
	WidthMM float64 `json:"width_mm"`
	Deep    int     `json:"deep"`
	For     string  `json:"for,omitempty"`
	Retired bool    `json:"retired,omitempty"`
}

// Apart is rack.Apart as it is written.
type Apart struct {
	A      string `json:"a"`
	B      string `json:"b"`
	Within string `json:"within"`
}

// Recipe is shop.RecipeBody as it is written.
type Recipe struct {
	Head
	Formula Formula  `json:"formula"`
	Policy  string   `json:"policy,omitempty"`
	Notes   string   `json:"notes,omitempty"`
	Tags    []string `json:"tags,omitempty"`

	SizeG     float64 `json:"size_g,omitempty"`
	InWeights bool    `json:"in_weights,omitempty"`
}

// Mold is shop.MoldBody as it is written.
type Mold struct {
	Head
	Mold     Shape  `json:"mold"`
	Material string `json:"material"`
	Bars     int    `json:"bars,omitempty"`
	Cut      Cut    `json:"cut,omitzero"`
	Spare    bool   `json:"spare,omitempty"`
	Retired  bool   `json:"retired,omitempty"`
	Owned    int    `json:"owned,omitempty"`
}

// Tool is shop.ToolBody as it is written.
type Tool struct {
	Head
	Kind    string  `json:"kind"`
	ML      float64 `json:"ml,omitempty"`
	Tare    float64 `json:"tare,omitempty"`
	Spacing float64 `json:"spacing_mm,omitempty"`
	Wires   int     `json:"wires,omitempty"`
	Notes   string  `json:"notes,omitempty"`
	Retired bool    `json:"retired,omitempty"`
}

// Container is shop.StockBody as it is written.
type Container struct {
	Head
	Target    float64 `json:"target,omitempty"`
	Purity    float64 `json:"purity,omitempty"`
	AlkaliG   float64 `json:"alkali_g,omitempty"`
	WaterG    float64 `json:"water_g,omitempty"`
	Lot       string  `json:"lot,omitempty"`
	Blend     []Share `json:"blend,omitempty"`
	Container string  `json:"container"`
	ML        float64 `json:"ml,omitempty"`
	Material  string  `json:"material,omitempty"`
	Tare      float64 `json:"tare,omitempty"`
	PeakC     float64 `json:"peak_c,omitempty"`
	Note      string  `json:"note,omitempty"`
}

// KeptPlan is shop.PlanBody as it is written.
type KeptPlan struct {
	Head
	Recipe      string       `json:"recipe"`
	Revision    int          `json:"revision"`
	Request     Request      `json:"request"`
	Plan        Plan         `json:"plan"`
	Molds       []LotMold    `json:"molds"`
	Sheet       []Section    `json:"sheet"`
	Policy      Policy       `json:"policy"`
	Notes       string       `json:"notes,omitempty"`
	Scale       float64      `json:"scale_step"`
	Trial       bool         `json:"trial,omitempty"`
	Cuts        []CutPlan    `json:"cuts,omitempty"`
	Loss        float64      `json:"loss,omitempty"`
	LossOf      int          `json:"loss_of,omitempty"`
	Label       Label        `json:"label,omitzero"`
	Split       [][]PotShare `json:"split,omitempty"`
	New         []string     `json:"new,omitempty"`
	Spare       string       `json:"spare,omitempty"`
	Liners      []Liner      `json:"liners,omitempty"`
	StockOID    string       `json:"stock,omitempty"`
	FatStockOID string       `json:"fat_stock,omitempty"`
}

// CutPlan is shop.CutPlan as it is written.
type CutPlan struct {
	Bars
	RawG   float64 `json:"raw_g"`
	CuredG float64 `json:"cured_g"`
	EndG   float64 `json:"end_g,omitempty"`
	Stays  float64 `json:"stays,omitempty"`
	Cutter string  `json:"cutter,omitempty"`
}

// Bars is mold.Bars as it is written.
type Bars struct {
	Count     int       `json:"count"`
	Volume    float64   `json:"volume"`
	Thickness float64   `json:"thickness,omitempty"`
	Loaves    int       `json:"loaves"`
	Ends      int       `json:"ends,omitempty"`
	EndVolume float64   `json:"end_ml,omitempty"`
	TrimML    float64   `json:"trim_ml,omitempty"`
	Marks     []float64 `json:"marks,omitempty"`
	Along     float64   `json:"along,omitempty"`
}

// Label is mold.Label as it is written.
type Label struct {
	Grams  float64 `json:"grams"`
	Loss   float64 `json:"loss"`
	Margin float64 `json:"margin"`
}

// PotShare is plan.PotShare as it is written.
type PotShare struct {
	Mold  int     `json:"Mold"`
	Count float64 `json:"Count"`
}

// Liner is shop.Liner as it is written.
type Liner struct {
	Mold   string  `json:"mold"`
	Count  int     `json:"count"`
	Length float64 `json:"Length"`
	Width  float64 `json:"Width"`
}

// KeptScent is shop.ScentBody as it is written.
type KeptScent struct {
	Head
	Scent Scent  `json:"scent"`
	Notes string `json:"notes,omitempty"`
}

// Material is inventory.Material as it is written.
type Material struct {
	Head
	Key    string   `json:"key"`
	Name   string   `json:"name"`
	Kind   string   `json:"kind"`
	Label  string   `json:"label,omitempty"`
	Unit   string   `json:"unit"`
	Dense  float64  `json:"g_per_ml,omitempty"`
	Place  string   `json:"place,omitempty"`
	Closed int      `json:"closed_months,omitempty"`
	Opened int      `json:"opened_months,omitempty"`
	Safety int      `json:"safety_days,omitempty"`
	Offers []Offer  `json:"offers,omitempty"`
	Also   []string `json:"also,omitempty"`
	Not    []string `json:"not,omitempty"`
	Always bool     `json:"always,omitempty"`
	Retire bool     `json:"retired,omitempty"`
}

// Offer is inventory.Offer as it is written.
type Offer struct {
	Supplier string `json:"supplier"`
	Article  string `json:"article,omitempty"`
	Amount   int64  `json:"amount"`
	Price    int64  `json:"price"` // minor units, below zero when not known
	Lead     int    `json:"lead_days,omitempty"`
}

// SupplyOrder is inventory.Order as it is written.
type SupplyOrder struct {
	Head
	Lines []OrderLine `json:"lines"`
	Due   string      `json:"due,omitempty"`
	Note  string      `json:"note,omitempty"`
}

// OrderLine is inventory.OrderLine as it is written.
type OrderLine struct {
	Key     string `json:"key"`
	Name    string `json:"name"`
	Unit    string `json:"unit"`
	Article string `json:"article,omitempty"`
	Pack    int64  `json:"pack"`
	Packs   int    `json:"packs"`
	Price   int64  `json:"price"` // of a pack in minor units, below zero when not known
}

// LotCost is cost.Frozen as it is written. Amounts are exact fractions of minor units.
type LotCost struct {
	Head
	Currency string      `json:"currency"`
	Lines    []CostLine  `json:"lines"`
	Minutes  int         `json:"minutes,omitempty"`
	Rate     int64       `json:"rate,omitempty"`
	Shares   []CostShare `json:"shares,omitempty"`
}

// CostLine is cost.FrozenLine as it is written.
type CostLine struct {
	Name      string `json:"name"`
	MG        int64  `json:"mg"`
	Cost      string `json:"cost"`
	UnknownMG int64  `json:"unknown_mg,omitempty"`
}

// CostShare is cost.FrozenShare as it is written.
type CostShare struct {
	Name  string `json:"name"`
	Count int    `json:"count,omitempty"`
	MG    int64  `json:"mg"`
	Cost  string `json:"cost"`
}

// Product is product.Product as it is written.
type Product struct {
	Head
	Name     string         `json:"name"`
	Recipes  []string       `json:"recipes"`
	Grades   []string       `json:"grades"`
	Size     string         `json:"size,omitempty"`
	Stamp    string         `json:"stamp,omitempty"`
	Net      float64        `json:"net_g"`
	Prices   []ProductPrice `json:"prices,omitempty"`
	From     string         `json:"from,omitempty"`
	Until    string         `json:"until,omitempty"`
	Limited  bool           `json:"limited,omitempty"`
	Launch   string         `json:"launch,omitempty"`
	Care     string         `json:"care,omitempty"`
	Wording  string         `json:"wording,omitempty"`
	Approval string         `json:"approval,omitempty"`
	Looked   ProductLooked  `json:"looked,omitzero"`
	Retired  bool           `json:"retired,omitempty"`
}

// ProductPrice is product.Price as it is written.
type ProductPrice struct {
	Channel string `json:"channel"`
	Amount  int64  `json:"amount"` // minor units
}

// ProductLooked is product.Looked as it is written.
type ProductLooked struct {
	Where string `json:"where,omitempty"`
	On    string `json:"on,omitempty"`
	By    string `json:"by,omitempty"`
	Found string `json:"found,omitempty"`
}

// Sheet is tag.Sheet as it is written.
type Sheet struct {
	Head
	PageW   float64 `json:"page_w_mm"`
	PageH   float64 `json:"page_h_mm"`
	Left    float64 `json:"left_mm"`
	Top     float64 `json:"top_mm"`
	Columns int     `json:"columns"`
	Rows    int     `json:"rows"`
	W       float64 `json:"w_mm"`
	H       float64 `json:"h_mm"`
	GapX    float64 `json:"gap_x_mm,omitempty"`
	GapY    float64 `json:"gap_y_mm,omitempty"`
}

// LabelRules is label.Rules as it is written.
type LabelRules struct {
	Head
	Style    string  `json:"style"`
	Colours  string  `json:"colours"`
	ByAdded  bool    `json:"by_added,omitempty"`
	Letter   float64 `json:"letter_mm"`
	Address  string  `json:"address,omitempty"`
	Assessed bool    `json:"assessed,omitempty"`
}

// Declaration is label.Declaration as it is written.
type Declaration struct {
	Head
	Allergens []AllergenShare `json:"allergens,omitempty"`
	None      bool            `json:"none,omitempty"`
	Source    string          `json:"source,omitempty"`
}

// AllergenShare is label.Share as it is written.
type AllergenShare struct {
	Name    string  `json:"name"`
	Percent float64 `json:"percent"`
}

// Assessment is assess.Assessment as it is written.
type Assessment struct {
	Head
	Reference string  `json:"reference"`
	On        string  `json:"on"`
	By        string  `json:"by"`
	Limits    []Limit `json:"limits"`
	Note      string  `json:"note,omitempty"`
	Withdrawn bool    `json:"withdrawn,omitempty"`
}

// Limit is assess.Limit as it is written.
type Limit struct {
	Name string  `json:"name"`
	Min  float64 `json:"min,omitempty"` // percent of the fats
	Max  float64 `json:"max"`
}

// PrintedLabel is tag.Printed as it is written.
type PrintedLabel struct {
	Head
	Sheet       string      `json:"sheet"`
	W           float64     `json:"w_mm"`
	H           float64     `json:"h_mm"`
	Lines       []LabelLine `json:"lines"`
	Ingredients string      `json:"ingredients"`
	Allergens   []string    `json:"allergens,omitempty"`
	Marks       []string    `json:"marks,omitempty"`
	Net         float64     `json:"net_g"`
	Wording     string      `json:"wording,omitempty"`
}

// LabelLine is tag.Line as it is written.
type LabelLine struct {
	X    float64 `json:"x_mm"`
	Y    float64 `json:"y_mm"`
	Size float64 `json:"size_mm"`
	Bold bool    `json:"bold,omitempty"`
	Text string  `json:"text"`
}

// Market is market.Market as it is written.
type Market struct {
	Head
	On      string       `json:"on"`
	Opens   string       `json:"opens"`
	Closes  string       `json:"closes"`
	Place   string       `json:"place,omitempty"`
	Channel string       `json:"channel"`
	Fee     int64        `json:"fee,omitempty"`
	Float   int64        `json:"float,omitempty"`
	Deal    MarketDeal   `json:"deal,omitzero"`
	Bring   []string     `json:"bring,omitempty"`
	Wants   []MarketWant `json:"wants,omitempty"`
	Note    string       `json:"note,omitempty"`
	Off     bool         `json:"off,omitempty"`
}

// MarketDeal is market.Deal as it is written.
type MarketDeal struct {
	Bars   int   `json:"bars"`
	Amount int64 `json:"amount"`
}

// MarketWant is market.Want as it is written.
type MarketWant struct {
	Product string `json:"product"`
	Bars    int    `json:"bars"`
}

// TillLines are the lines of a sale of a stall as they are written.
type TillLines struct {
	Head
	Lines []TillLine `json:"lines"`
}

// TillLine is market.Line as it is written.
type TillLine struct {
	Product string `json:"product"`
	Bars    int    `json:"bars"`
}

// MarketHome is market.Record as it is written.
type MarketHome struct {
	Head
	Home     MarketCount     `json:"home"`
	Balance  MarketBalance   `json:"balance"`
	Outcomes []MarketOutcome `json:"outcomes"`
}

// MarketCount is market.Home as it is written.
type MarketCount struct {
	Lines   []MarketLine `json:"lines"`
	Cash    int64        `json:"cash"`
	Card    int64        `json:"card"`
	Float   int64        `json:"float"`
	Weather string       `json:"weather,omitempty"`
	Note    string       `json:"note,omitempty"`
}

// MarketLine is market.Counted as it is written.
type MarketLine struct {
	Boxed   MarketBoxed `json:"box"`
	Left    int         `json:"left"`
	Given   int         `json:"given,omitempty"`
	Spoiled int         `json:"spoiled,omitempty"`
}

// MarketBoxed is market.Boxed as it is written.
type MarketBoxed struct {
	Product string  `json:"product"`
	Lot     string  `json:"lot"`
	Code    string  `json:"code"`
	Number  int     `json:"number"`
	Kind    BarKind `json:"kind"`
	Bars    int     `json:"bars"`
}

// BarKind is ledger.Kind as it is written.
type BarKind struct {
	Size  string `json:"size,omitempty"`
	Grade string `json:"grade"`
}

// MarketBalance is market.Balance as it is written.
type MarketBalance struct {
	Cash    int64 `json:"cash"`
	CashDue int64 `json:"cash_due"`
	Card    int64 `json:"card"`
	CardDue int64 `json:"card_due"`
}

// MarketOutcome is market.Outcome as it is written.
type MarketOutcome struct {
	Product string `json:"product"`
	Name    string `json:"name"`
	Packed  int    `json:"packed"`
	Left    int    `json:"left"`
	Given   int    `json:"given,omitempty"`
	Spoiled int    `json:"spoiled,omitempty"`
	Sold    int    `json:"sold"`
	Till    int    `json:"till"`
	Amount  int64  `json:"amount"`
	Asked   int    `json:"asked,omitempty"`
	Gone    string `json:"gone,omitempty"`
	Wanted  int    `json:"wanted"`
}

// Bench is run.Bench as it is written.
type Bench struct {
	Head
	Start int          `json:"start_minute"`
	End   int          `json:"end_minute"`
	Has   []BenchThing `json:"has,omitempty"`
	Moved []MovedStep  `json:"moved,omitempty"`
	Note  string       `json:"note,omitempty"`
}

// BenchThing is run.Resource as it is written.
type BenchThing struct {
	Name  string `json:"name"`
	Count int    `json:"count"`
}

// MovedStep is run.Moved as it is written.
type MovedStep struct {
	Batch string `json:"batch"`
	Step  string `json:"step"`
	At    int    `json:"at_minute"`
}

// SaleRules is sale.Rules as it is written.
type SaleRules struct {
	Head
	Tax        float64       `json:"tax_percent,omitempty"`
	Channels   []SaleChannel `json:"channels,omitempty"`
	KeepNames  int           `json:"keep_names_days,omitempty"`
	PotsPerDay int           `json:"pots_per_day"`
	Margin     int           `json:"margin_days"`
	Terms      string        `json:"terms,omitempty"`
}

// SaleChannel is sale.Channel as it is written.
type SaleChannel struct {
	Name    string  `json:"name"`
	Percent float64 `json:"percent,omitempty"`
	Each    int64   `json:"each,omitempty"`
}

// SaleOrder is sale.Order as it is written.
type SaleOrder struct {
	Head
	Buyer   string     `json:"buyer"`
	Channel string     `json:"channel"`
	Due     string     `json:"due"`
	Terms   string     `json:"terms"`
	Lines   []SaleLine `json:"lines"`
	Note    string     `json:"note,omitempty"`
	Closed  bool       `json:"closed,omitempty"`
}

// SaleLine is sale.Line as it is written.
type SaleLine struct {
	Product string `json:"product"`
	Bars    int    `json:"bars"`
	Price   int64  `json:"price"`
}

// SaleDocument is sale.Document as it is written.
type SaleDocument struct {
	Head
	Kind     string    `json:"kind"`
	On       string    `json:"on"`
	Address  string    `json:"address,omitempty"`
	Buyer    string    `json:"buyer"`
	Order    int64     `json:"order"`
	Terms    string    `json:"terms"`
	Rows     []SaleRow `json:"rows"`
	Total    int64     `json:"total"`
	Percent  float64   `json:"tax_percent"`
	Tax      int64     `json:"tax"`
	Currency string    `json:"currency"`
	Text     string    `json:"text,omitempty"`
}

// SaleRow is sale.Row as it is written.
type SaleRow struct {
	Name   string   `json:"name"`
	Lots   []string `json:"lots"`
	Bars   int      `json:"bars"`
	Price  int64    `json:"price"`
	Amount int64    `json:"amount"`
}
