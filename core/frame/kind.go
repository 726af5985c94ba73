package frame

// PartKind is what a part is, for grouping, in words that can be read.
type PartKind string

// The kinds of part.
const (
	SideBoard   PartKind = "side"
	EndBoard    PartKind = "end"
	CrossBoard  PartKind = "cross board" // between two bays
	CapBoard    PartKind = "cap"
	CornerPost  PartKind = "corner post"
	MidPost     PartKind = "mid post"
	Stake       PartKind = "stake"
	Leg         PartKind = "leg"
	Apron       PartKind = "apron"
	Ledger      PartKind = "ledger"
	Beam        PartKind = "beam"
	Spanner     PartKind = "spanner" // a beam of a floor whose slats run the other way
	Slat        PartKind = "slat"
	FloorSheet  PartKind = "floor sheet"
	Cleat       PartKind = "cleat"
	CrossTie    PartKind = "cross tie"
	TieCleat    PartKind = "tie cleat"
	Tie         PartKind = "tie"
	Strap       PartKind = "strap"
	Strip       PartKind = "strip" // of a grid
	TrellisPart PartKind = "trellis"
	BenchPart   PartKind = "bench"
	FencePost   PartKind = "fence post"
	GatePart    PartKind = "gate"
	Trim        PartKind = "corner strip"
	Block       PartKind = "block"
	MiddleBlock PartKind = "middle block"
)

// UnitKind is what a unit is in its course, in words that can be read.
type UnitKind string

// The kinds of unit.
const (
	StandardUnit UnitKind = "standard"
	HalfUnit     UnitKind = "half"
	CutUnit      UnitKind = "cut"
	LeftCorner   UnitKind = "left corner"
	RightCorner  UnitKind = "right corner"
	CapUnit      UnitKind = "cap"
	SlottedUnit  UnitKind = "slotted"
)
