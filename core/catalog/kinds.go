package catalog

// ProfileKind is what a profile of timber is sold for.
type ProfileKind string

// What timber is sold for. A panel is plywood, by its sheet.
const (
	Board   ProfileKind = "board"
	Post    ProfileKind = "post"
	Stake   ProfileKind = "stake"
	Sleeper ProfileKind = "sleeper"
	Panel   ProfileKind = "panel"
)

// FixingKind is how a fixing is driven and what it is reckoned as.
type FixingKind string

// The kinds of fixing.
const (
	Screw  FixingKind = "screw"
	Pocket FixingKind = "pocket"
	Lag    FixingKind = "lag"
	Nail   FixingKind = "nail"
	Staple FixingKind = "staple"
	Washer FixingKind = "washer"
)

// FillKind is how soil is sold.
type FillKind string

// The ways soil is sold.
const (
	Bag    FillKind = "bag"
	InBulk FillKind = "loose"
)

// UnitKind is what a block or brick is made for.
type UnitKind string

// What blocks and bricks are made for.
const (
	HollowUnit  UnitKind = "hollow"
	HalfUnit    UnitKind = "half"
	CapUnit     UnitKind = "cap"
	WallUnit    UnitKind = "wall"
	CornerUnit  UnitKind = "corner"
	RingUnit    UnitKind = "ring"
	Brick       UnitKind = "brick"
	EdgingUnit  UnitKind = "edging"
	SlottedUnit UnitKind = "slotted"
	CastWall    UnitKind = "cast" // no unit: a wall that is poured, as thick
)

// LooseKind is what something sold by the bag or by the ton is for.
type LooseKind string

// What is sold by the bag or by the ton.
const (
	BaseStone  LooseKind = "base"
	DrainStone LooseKind = "stone"
	Sand       LooseKind = "sand"
	Cement     LooseKind = "cement"
	Concrete   LooseKind = "concrete"
	Mortar     LooseKind = "mortar"
)
