package export

import (
	_ "embed"
	"encoding/csv"
	"fmt"
	"io"
	"math"
	"slices"
	"strconv"
	"strings"

	"chamfer/core/catalog"
	"chamfer/core/cost"
	"chamfer/core/design"
	"chamfer/core/fill"
	"chamfer/core/fixing"
	"chamfer/core/frame"
	"chamfer/core/measure"
	"chamfer/core/money"
	"chamfer/core/plan"
	"chamfer/core/review"
	"chamfer/core/sources"
	"chamfer/core/strength"
)

// PlanSchema is the JSON Schema of a plan's file.
//
//go:embed chamfer-plan-1.schema.json
var PlanSchema []byte

// PlanFormat is what a plan's file says it is.
const PlanFormat = "chamfer-plan/1"

// PlanFile is a whole plan as its file has it (docs/format.md, chamfer-plan-1.schema.json).
// Keys stand in the order of the alphabet, so that the same plan gives the same bytes
// whoever writes it.
type PlanFile struct {
	Bill     BillFile      `json:"bill"`
	Cavities []CavityFile  `json:"cavities"`
	Cuts     []CutsFile    `json:"cuts"`
	Design   design.Design `json:"design"`
	Fill     FillFile      `json:"fill"`
	Findings []FindingFile `json:"findings"`
	Fixings  []FixingFile  `json:"fixings"`
	Format   string        `json:"format"`
	Ground   GroundFile    `json:"ground"`
	Joints   []JointFile   `json:"joints"`
	Links    []LinkFile    `json:"links"`
	Parts    []PartFile    `json:"parts"`
	Sheets   []SheetFile   `json:"sheets"`
	Shopping []LineFile    `json:"shopping"`
	Steps    []StepFile    `json:"steps"`
	Units    []UnitFile    `json:"units"`
}

// BillFile is what it all costs.
type BillFile struct {
	AreaUnit string          `json:"area_unit"`
	Currency string          `json:"currency"`
	PerArea  money.Amount    `json:"per_area"`
	PerYear  [2]money.Amount `json:"per_year"` // at best, at worst
	Subtotal money.Amount    `json:"subtotal"`
	Tax      money.Amount    `json:"tax"`
	Total    money.Amount    `json:"total"`
	Without  []string        `json:"without"`
}

// CavityFile is a room for soil.
type CavityFile struct {
	Bed     string       `json:"bed"`
	Bottom  float64      `json:"bottom_mm"`
	Gross   float64      `json:"gross_m3"`
	ID      string       `json:"id"`
	Outline [][2]float64 `json:"outline_mm"`
	Top     float64      `json:"top_mm"`
	Volume  float64      `json:"volume_m3"`
}

// CutsFile is how the boards of one size and timber are cut.
type CutsFile struct {
	Answer  CutAnswer `json:"answer"`
	Profile string    `json:"profile"`
	Species string    `json:"species"`
}

// FillFile is the soil.
type FillFile struct {
	Barrows   int         `json:"barrows"`
	Dug       float64     `json:"dug_m3"` // topsoil from the ground, as it lay
	Found     float64     `json:"found_m3"`
	Layers    []LayerFile `json:"layers"` // bed by bed, from the bottom
	Materials []NeedFile  `json:"materials"`
	Order     float64     `json:"order_m3"`
	Turf      float64     `json:"turf_m3"` // as it was cut
	Volume    float64     `json:"volume_m3"`
	Ways      []WayFile   `json:"ways"` // of what is sold as soil for beds
	WetMass   float64     `json:"wet_mass_kg"`
}

// LayerFile is one layer of one bed, settled.
type LayerFile struct {
	Bed      string  `json:"bed"`
	Depth    float64 `json:"depth_mm"`
	Mass     float64 `json:"mass_wet_kg"`
	Material string  `json:"material"`
	Owned    float64 `json:"owned_m3"`
	Volume   float64 `json:"volume_m3"`
}

// NeedFile is one material for all beds.
type NeedFile struct {
	Material string    `json:"material"`
	Order    float64   `json:"order_m3"`
	Owned    float64   `json:"owned_m3"`
	Settled  float64   `json:"settled_m3"`
	Ways     []WayFile `json:"ways"`
}

// WayFile is one way in which the soil can come.
type WayFile struct {
	Cheapest bool         `json:"cheapest"`
	Chosen   bool         `json:"chosen"`
	Cost     money.Amount `json:"cost"`
	Fill     string       `json:"fill"`
	Kind     string       `json:"kind"`
	Packs    int          `json:"packs"`
}

// FindingFile is something to look at again.
type FindingFile struct {
	Bed      string          `json:"bed"`
	Code     string          `json:"code"`
	Kept     bool            `json:"kept"`
	KeptWhy  string          `json:"kept_why"`
	Parts    []string        `json:"parts"`
	Remedies []RemedyFile    `json:"remedies"`
	Severity review.Severity `json:"severity"`
	Source   string          `json:"source"`
	Text     string          `json:"text"`
	Why      string          `json:"why"`
}

// RemedyFile is one way to mend a finding.
type RemedyFile struct {
	Edits []EditFile `json:"edits"`
	Label string     `json:"label"`
}

// EditFile is a change of one decision.
type EditFile struct {
	Bed   string `json:"bed"`
	Field string `json:"field"`
	Value string `json:"value"`
}

// FixingFile is one kind of screw, and how many.
type FixingFile struct {
	Buy    int     `json:"buy"`
	Count  int     `json:"count"`
	Fixing string  `json:"fixing"`
	Length float64 `json:"length_mm"`
	Name   string  `json:"name"`
	Pilot  float64 `json:"pilot_mm"`
	Source string  `json:"source"`
	Why    string  `json:"why"`
}

// GroundFile is what is done below the beds.
type GroundFile struct {
	Beds       []FormationFile `json:"beds"`    // on ground that was measured
	Cut        float64         `json:"cut_m3"`  // under them, as it lay
	Dug        float64         `json:"dug_m3"`  // for the foot of walls
	Fill       float64         `json:"fill_m3"` // under them, trodden down
	Flows      []FlowFile      `json:"flows"`
	Footprint  float64         `json:"footprint_m2"`
	Holes      []HoleFile      `json:"holes"`
	Loose      []LooseFile     `json:"loose"`
	Pegs       []PegFile       `json:"pegs"`
	Short      float64         `json:"short_m3"` // that has to be brought
	Spoil      float64         `json:"spoil_m3"` // that leaves, as it lay
	SpoilLoose float64         `json:"spoil_loose_m3"`
	Trench     float64         `json:"trench_m"`
}

// FormationFile is the ground below one bed.
type FormationFile struct {
	Bed     string     `json:"bed"`
	Cut     float64    `json:"cut_m3"`
	Fall    float64    `json:"fall"` // of the ground as it is
	Fill    float64    `json:"fill_m3"`
	Level   float64    `json:"level_mm"` // at its middle
	N       int        `json:"n"`
	Reach   [2]float64 `json:"reach_mm"` // its lowest and highest ground
	Towards float64    `json:"towards"`
	Way     string     `json:"way"`
}

// FlowFile is ground that comes out or goes in somewhere, as it lay.
type FlowFile struct {
	In     bool    `json:"in"`
	Volume float64 `json:"volume_m3"`
	What   string  `json:"what"`
}

// PegFile is a place whose height is known.
type PegFile struct {
	Height float64 `json:"height_mm"`
	Name   string  `json:"name"`
	X      float64 `json:"x_mm"`
	Y      float64 `json:"y_mm"`
}

// HoleFile is post holes of one depth.
type HoleFile struct {
	Count int     `json:"count"`
	Depth float64 `json:"depth_mm"`
}

// LooseFile is something that comes by the bag or the ton.
type LooseFile struct {
	Item   string  `json:"item"`
	Kind   string  `json:"kind"`
	Mass   float64 `json:"mass_kg"`
	Packs  int     `json:"packs"`
	Volume float64 `json:"volume_m3"`
}

// JointFile is two things fixed to one another.
type JointFile struct {
	At      [3]float64      `json:"at_mm"`
	Bed     string          `json:"bed"`
	ID      string          `json:"id"`
	Into    float64         `json:"into_mm"`
	Kind    frame.JointKind `json:"kind"`
	Load    string          `json:"load"`
	Parts   [2]string       `json:"parts"`
	Run     float64         `json:"run_mm"`
	Through float64         `json:"through_mm"`
}

// LinkFile is one checked link of a load's path; what nothing holds has no ratio.
type LinkFile struct {
	Bed     string        `json:"bed"`
	Breaks  float64       `json:"breaks_n"`
	Fixings *int          `json:"fixings,omitempty"`
	From    string        `json:"from"`
	Holds   float64       `json:"holds_n"`
	Joint   string        `json:"joint,omitempty"`
	Kind    strength.Way  `json:"kind"`
	Load    float64       `json:"load_n"`
	Path    strength.Path `json:"path"`
	Ratio   *float64      `json:"ratio,omitempty"`
	To      string        `json:"to"`
}

// PartFile is one piece of timber where it is built in: a box, or its corners.
type PartFile struct {
	Bed       string       `json:"bed"`
	Box       []float64    `json:"box_mm,omitempty"`
	Count     int          `json:"count"`
	Course    int          `json:"course"`
	Ends      [2]frame.End `json:"ends"`
	Extra     float64      `json:"extra_mm"`
	Hidden    bool         `json:"hidden"`
	ID        string       `json:"id"`
	Kind      string       `json:"kind"`
	Length    float64      `json:"length_mm"`
	Letter    string       `json:"letter"`
	Material  string       `json:"material"`
	Notches   [][]float64  `json:"notches_mm,omitempty"`
	Profile   string       `json:"profile"`
	Role      string       `json:"role"`
	Solid     [][3]float64 `json:"solid_mm,omitempty"`
	Thickness float64      `json:"thickness_mm"`
	Width     float64      `json:"width_mm"`
}

// SheetFile is a sheet or cloth.
type SheetFile struct {
	Bed      string  `json:"bed"`
	ID       string  `json:"id"`
	Length   float64 `json:"length_mm"`
	Material string  `json:"material"`
	Place    string  `json:"place"`
	TurnUp   float64 `json:"turn_up_mm"`
	Width    float64 `json:"width_mm"`
}

// LineFile is one thing to buy.
type LineFile struct {
	Amount   money.Amount `json:"amount"`
	Group    cost.Group   `json:"group"`
	Item     string       `json:"item"`
	Price    money.Amount `json:"price"`
	Quantity int          `json:"quantity"`
	Shop     string       `json:"shop,omitempty"` // it is bought at, where one was chosen
	SKU      string       `json:"sku"`
	Unit     string       `json:"unit"`
	Why      string       `json:"why"`
}

// StepFile is one step of the work.
type StepFile struct {
	After    []BeforeFile  `json:"after"`
	Bed      string        `json:"bed"`
	Brings   []string      `json:"brings"`
	Cautions []CautionFile `json:"cautions"`
	Do       []string      `json:"do"`
	Fills    []string      `json:"fills"`
	Hands    int           `json:"hands"`
	Have     []string      `json:"have"`
	ID       string        `json:"id"`
	Joints   []string      `json:"joints"`
	Minutes  [2]float64    `json:"minutes"` // of one person, at least and at most
	Parts    []string      `json:"parts"`
	Rounds   int           `json:"rounds"`
	Title    string        `json:"title"`
	Uses     []UseFile     `json:"uses"`
	Weather  []string      `json:"weather"`
	Where    string        `json:"where"`
}

// BeforeFile is a step that comes before another, and how many hours have to pass between them.
type BeforeFile struct {
	ID    string     `json:"id"`
	WaitH [2]float64 `json:"wait_h"`
	Why   string     `json:"why"`
}

// UseFile is what a step takes of something: so many, so much of its length or so much by volume.
type UseFile struct {
	Count    int     `json:"count"`
	Item     string  `json:"item"`
	LengthMM float64 `json:"length_mm"`
	VolumeM3 float64 `json:"volume_m3"`
}

// CautionFile is a danger, and why it is one.
type CautionFile struct {
	Text string `json:"text"`
	Why  string `json:"why"`
}

// UnitFile is one block or brick with its pose.
type UnitFile struct {
	Angle  float64      `json:"angle"`
	Bed    string       `json:"bed"`
	Box    []float64    `json:"box_mm,omitempty"`
	Count  int          `json:"count"`
	Course int          `json:"course"`
	Cut    float64      `json:"cut_mm"`
	ID     string       `json:"id"`
	Kind   string       `json:"kind"`
	Role   string       `json:"role"`
	SKU    string       `json:"sku"`
	Solid  [][3]float64 `json:"solid_mm,omitempty"`
}

// WritePlan writes a whole plan as JSON.
func WritePlan(w io.Writer, p *plan.Plan) error { return encode(w, PlanOf(p)) }

// PlanOf is a plan as its file has it.
func PlanOf(p *plan.Plan) PlanFile {
	out := PlanFile{
		Format: PlanFormat, Design: p.Design,
		Bill: billFile(p), Fill: fillFile(p), Ground: groundFile(p),
		Cavities: []CavityFile{}, Cuts: []CutsFile{}, Findings: []FindingFile{}, Fixings: []FixingFile{},
		Joints: []JointFile{}, Links: []LinkFile{}, Parts: []PartFile{}, Sheets: []SheetFile{},
		Shopping: []LineFile{}, Steps: []StepFile{}, Units: []UnitFile{},
	}
	for i := range p.Frames {
		out.frame(&p.Frames[i])
	}
	for _, c := range p.Cuts {
		out.Cuts = append(out.Cuts, CutsFile{
			Profile: c.Profile.ID, Species: c.Species.ID, Answer: Answer(c.Answer, p.Shop.Catalog.System)})
	}
	for _, l := range p.Bill.Lines {
		out.Shopping = append(out.Shopping, LineFile{Group: l.Group, SKU: l.SKU, Item: p.Say(l.Item),
			Quantity: l.Quantity, Unit: l.Unit, Price: l.Price, Amount: l.Amount, Why: p.Say(l.Why),
			Shop: l.At})
	}
	for _, n := range p.Fixings.Needs {
		out.Fixings = append(out.Fixings, FixingFile{Fixing: n.Fixing.ID, Name: n.Fixing.Name,
			Length: n.Fixing.Length.Millimetres(), Count: n.Count, Buy: n.Buy, Pilot: n.Pilot.Millimetres(),
			Why: p.Say(n.Words()), Source: sources.Said(fixing.Source)})
	}
	for _, f := range p.Findings {
		out.Findings = append(out.Findings, findingFile(p, f))
	}
	for _, l := range p.Links {
		out.Links = append(out.Links, linkFile(l))
	}
	for _, s := range p.Steps {
		step := StepFile{ID: s.ID, Bed: s.Bed, Title: p.Say(s.Title), Where: p.Say(s.Where),
			Do: saidAll(p, s.Do), Have: saidAll(p, s.Have), Cautions: []CautionFile{}, Parts: s.New,
			After: []BeforeFile{}, Brings: s.Brings, Fills: s.Fills, Hands: s.Hands, Joints: s.Joints,
			Rounds: max(1, s.Rounds), Uses: []UseFile{}, Weather: []string{}}
		low, high := s.Minutes()
		step.Minutes = [2]float64{math.Round(low), math.Round(high)}
		for _, b := range s.After {
			step.After = append(step.After, BeforeFile{b.ID, [2]float64{b.Wait.Low, b.Wait.High}, p.Say(b.Why)})
		}
		for _, u := range s.Uses {
			step.Uses = append(step.Uses, UseFile{u.Count, u.Item, u.Length.Millimetres(), u.Volume.CubicMetres()})
		}
		for _, x := range s.Weather {
			step.Weather = append(step.Weather, string(x))
		}
		for _, c := range s.Cautions {
			step.Cautions = append(step.Cautions, CautionFile{Text: p.Say(c.Text), Why: p.Say(c.Why)})
		}
		out.Steps = append(out.Steps, step)
	}
	return out
}

// frame adds what one frame is built of.
func (out *PlanFile) frame(f *frame.Frame) {
	for _, p := range f.Parts {
		out.Parts = append(out.Parts, partFile(p, f.Times))
	}
	for _, u := range f.Units {
		one := UnitFile{ID: u.ID, SKU: u.SKU, Kind: string(u.Kind), Role: u.Role, Bed: u.Bed, Course: u.Course,
			Count: f.Times, Cut: u.Cut.Millimetres(), Angle: u.Angle}
		one.Box, one.Solid = solidFile(u.Body)
		out.Units = append(out.Units, one)
	}
	for _, j := range f.Joints {
		out.Joints = append(out.Joints, JointFile{ID: j.ID, Kind: j.Kind, Bed: f.Bed, Parts: j.Parts,
			At: place(j.At), Load: j.Load, Through: j.Through.Millimetres(), Into: j.Into.Millimetres(),
			Run: j.Run.Millimetres()})
	}
	for _, s := range f.Sheets {
		out.Sheets = append(out.Sheets, SheetFile{ID: s.ID, Bed: s.Bed, Material: s.Material, Place: s.Place,
			Length: s.Length.Millimetres(), Width: s.Width.Millimetres(), TurnUp: s.TurnUp.Millimetres()})
	}
	for _, c := range f.Cavities {
		room := CavityFile{ID: c.ID, Bed: c.Bed, Outline: [][2]float64{}, Bottom: c.Bottom.Millimetres(),
			Top: c.Top.Millimetres(), Volume: c.Net().CubicMetres(), Gross: c.Gross().CubicMetres()}
		for _, s := range c.Outline {
			room.Outline = append(room.Outline, [2]float64{s.U.Millimetres(), s.V.Millimetres()})
		}
		out.Cavities = append(out.Cavities, room)
	}
}

func billFile(p *plan.Plan) BillFile {
	best, worst := p.PerYear()
	return BillFile{Subtotal: p.Bill.Subtotal, Tax: p.Bill.Tax, Total: p.Bill.Total,
		Currency: p.Shop.Currency().Code, PerArea: p.PerArea(), AreaUnit: p.AreaUnit(),
		PerYear: [2]money.Amount{best, worst}, Without: append([]string{}, p.Bill.Without...)}
}

func fillFile(p *plan.Plan) FillFile {
	out := FillFile{Volume: p.Fill.Net.CubicMetres(), Found: p.Fill.Found.CubicMetres(),
		Order: p.Fill.Order.CubicMetres(), Barrows: p.Fill.Barrows, WetMass: float64(p.Fill.WetMass), Ways: []WayFile{},
		Layers: []LayerFile{}, Materials: []NeedFile{}, Dug: p.Fill.Topsoil.CubicMetres(), Turf: p.Fill.Turf.CubicMetres()}
	for _, l := range p.Fill.Laid {
		out.Layers = append(out.Layers, LayerFile{Bed: l.Bed, Material: p.Say(l.Words), Depth: l.Depth.Millimetres(),
			Volume: l.Volume.CubicMetres(), Owned: p.Fill.OwnedOf(l).CubicMetres(),
			Mass: float64(p.Fill.MassOf(l, p.Shop.Catalog))})
	}
	for _, n := range p.Fill.Needs {
		f := NeedFile{Material: n.Material.ID, Settled: n.Settled.CubicMetres(), Order: n.Order.CubicMetres(),
			Owned: n.Owned.CubicMetres(), Ways: wayFiles(n)}
		out.Materials = append(out.Materials, f)
		if n.Material.ID == catalog.Mixed {
			out.Ways = f.Ways
		}
	}
	return out
}

// wayFiles are the ways in which a material can come.
func wayFiles(n fill.Need) []WayFile {
	out := []WayFile{}
	for i, w := range n.Ways {
		out = append(out, WayFile{Fill: w.Fill.ID, Kind: string(w.Fill.Kind), Packs: w.Packs, Cost: w.Cost(),
			Chosen: i == n.Chosen, Cheapest: i == n.Cheapest})
	}
	return out
}

func groundFile(p *plan.Plan) GroundFile {
	out := GroundFile{Footprint: p.Ground.Footprint.SquareMetres(), Trench: p.Laying.Trench.Metres(),
		Dug: p.Laying.Dug.CubicMetres(), Holes: []HoleFile{}, Loose: []LooseFile{}, Beds: []FormationFile{},
		Flows: []FlowFile{}, Pegs: []PegFile{}}
	a := p.Ground.Account
	out.Short, out.Spoil, out.SpoilLoose = a.Short.CubicMetres(), a.Leaves.CubicMetres(), a.Loose.CubicMetres()
	for _, f := range p.Formations {
		share, toward := f.Ground.Fall()
		out.Cut, out.Fill = out.Cut+f.Moved.Cut, out.Fill+f.Moved.Fill
		out.Beds = append(out.Beds, FormationFile{Bed: f.Bed, N: f.N, Way: f.Way, Cut: f.Moved.Cut, Fill: f.Moved.Fill,
			Level: f.At() * 1000, Reach: [2]float64{f.Low.Z * 1000, f.High.Z * 1000}, Fall: share, Towards: toward})
	}
	for _, f := range a.Out {
		out.Flows = append(out.Flows, FlowFile{What: p.Say(f.What), Volume: f.Volume.CubicMetres()})
	}
	for _, f := range a.In {
		out.Flows = append(out.Flows, FlowFile{In: true, What: p.Say(f.What), Volume: f.Volume.CubicMetres()})
	}
	for _, g := range p.Survey.Pegs {
		out.Pegs = append(out.Pegs, PegFile{Name: g.Name, X: g.X.Millimetres(), Y: g.Y.Millimetres(),
			Height: g.Height.Millimetres()})
	}
	for _, h := range p.Ground.Holes {
		out.Holes = append(out.Holes, HoleFile{Depth: h.Depth.Millimetres(), Count: h.Count})
	}
	for _, h := range p.Laying.Heaps {
		out.Loose = append(out.Loose, LooseFile{Item: h.Loose.ID, Kind: string(h.Loose.Kind),
			Volume: h.Volume.CubicMetres(), Mass: float64(h.Mass), Packs: h.Packs})
	}
	return out
}

func findingFile(p *plan.Plan, f review.Finding) FindingFile {
	out := FindingFile{Code: f.Code, Severity: f.Severity, Bed: f.Bed, Parts: f.Parts, Text: p.Say(f.Text),
		Why: p.Say(p.Explain(f.Why).String()), Source: sources.Said(f.Why.Source), Kept: f.Kept, KeptWhy: f.KeptWhy,
		Remedies: []RemedyFile{}}
	for _, r := range f.Remedies {
		remedy := RemedyFile{Label: p.Say(r.Label), Edits: []EditFile{}}
		for _, e := range r.Edits {
			remedy.Edits = append(remedy.Edits, EditFile{Bed: e.Bed, Field: e.Field, Value: e.Value})
		}
		out.Remedies = append(out.Remedies, remedy)
	}
	return out
}

func linkFile(l strength.Link) LinkFile {
	out := LinkFile{Bed: l.Bed, From: l.From, To: l.To, Kind: l.Way, Path: l.Path,
		Load: tenths(l.Load), Holds: tenths(l.Holds), Breaks: tenths(l.Breaks)}
	if r := l.Ratio(); !math.IsInf(r, 0) {
		r = math.Round(1000*r) / 1000
		out.Ratio = &r
	}
	if l.Joint != "" {
		out.Joint, out.Fixings = l.Joint, &l.Screws
	}
	return out
}

// tenths rounds to a tenth.
func tenths(v float64) float64 { return math.Round(10*v) / 10 }

func partFile(p frame.Part, times int) PartFile {
	out := PartFile{ID: p.ID, Letter: p.Letter, Role: p.Role, Kind: string(p.Kind), Bed: p.Bed, Count: times,
		Profile: p.Profile, Material: p.Species, Course: p.Course, Length: p.Length.Millimetres(),
		Extra: p.Extra.Millimetres(), Width: p.Width.Millimetres(), Thickness: p.Thickness.Millimetres(),
		Ends: p.Ends, Hidden: p.Hidden}
	for _, n := range p.Notches {
		a, b := place(n.Lo), place(n.Hi)
		out.Notches = append(out.Notches, []float64{a[0], a[1], a[2], b[0], b[1], b[2]})
	}
	out.Box, out.Solid = solidFile(p.Body)
	return out
}

// solidFile is what something fills: a box, or its corners.
func solidFile(body frame.Prism) (box []float64, solid [][3]float64) {
	if body.IsBox() {
		lo, hi := body.Bounds()
		a, b := place(lo), place(hi)
		return []float64{a[0], a[1], a[2], b[0], b[1], b[2]}, nil
	}
	for _, c := range body.Corners() {
		solid = append(solid, place(c))
	}
	return nil, solid
}

func place(p frame.Point) [3]float64 {
	return [3]float64{p.X.Millimetres(), p.Y.Millimetres(), p.Z.Millimetres()}
}

// WriteCutList writes every board and piece as CSV: one row for the pieces of a letter that
// come out of one place on a board, so that counts add up to the pieces. Lengths are in the
// project's words and in millimetres.
func WriteCutList(w io.Writer, p *plan.Plan) error {
	c := csv.NewWriter(w)
	pr := p.Shop.Precision()
	rows := [][]string{
		{
			"board",
			"stock",
			"profile",
			"timber",
			"board length",
			"piece",
			"use",
			"bed",
			"length",
			"length_mm",
			"width",
			"width_mm",
			"blank",
			"strip",
			"count",
			"from left end",
			"left over",
		},
	}
	n := 0
	for _, cuts := range p.Cuts {
		for _, b := range cuts.Answer.Boards {
			full := cuts.Profile.Width
			if b.Stock.Width > 0 {
				full = b.Stock.Width
			}
			for range b.Count {
				n++
				for i, cut := range b.Cuts {
					left := ""
					if i == len(b.Cuts)-1 {
						left = pr.Short(b.Offcut)
					}
					rows = append(
						rows,
						[]string{
							strconv.Itoa(n),
							b.Stock.ID,
							cuts.Profile.Name,
							cuts.Species.Name,
							pr.Short(b.Stock.Length),
							cut.Piece,
							use(p, cut.Piece),
							bedsOf(p, cut.Piece),
							pr.Short(cut.Length),
							millimetres(cut.Length),
							pr.Short(cut.Wide(full)),
							millimetres(cut.Wide(full)),
							numbered(
								cut.Blank,
							),
							numbered(cut.Strip),
							strconv.Itoa(max(1, cut.Out)),
							pr.Short(cut.End()),
							left,
						},
					)
				}
			}
		}
	}
	return finish(c, rows)
}

// numbered is a number from 1, nothing for 0.
func numbered(n int) string {
	if n == 0 {
		return ""
	}
	return strconv.Itoa(n)
}

// bedsOf are the beds that a letter's pieces go into.
func bedsOf(p *plan.Plan, letter string) string {
	var names []string
	for i := range p.Frames {
		for _, part := range p.Frames[i].Parts {
			if part.Letter == letter && !slices.Contains(names, p.Frames[i].Name) {
				names = append(names, p.Frames[i].Name)
			}
		}
	}
	return strings.Join(names, "; ")
}

func millimetres(l measure.Length) string { return strconv.FormatFloat(l.Millimetres(), 'f', -1, 64) }

func use(p *plan.Plan, letter string) string {
	for i := range p.Frames {
		for _, part := range p.Frames[i].Parts {
			if part.Letter == letter {
				if ends := part.EndWords(); ends != "" {
					return p.Say(string(part.Kind) + " (" + ends + ")")
				}
				return string(part.Kind)
			}
		}
	}
	return ""
}

// saidAll says several texts.
func saidAll(p *plan.Plan, texts []string) []string {
	list := make([]string, len(texts))
	for i, t := range texts {
		list[i] = p.Say(t)
	}
	return list
}

// WriteShopping writes the shopping list as CSV.
func WriteShopping(w io.Writer, p *plan.Plan) error {
	rows := [][]string{{"group", "item", "quantity", "unit", "price", "amount", "sku", "shop"}}
	for _, l := range p.Bill.Lines {
		rows = append(
			rows,
			[]string{
				string(l.Group),
				p.Say(l.Item),
				strconv.Itoa(l.Quantity),
				l.Unit,
				l.Price.String(),
				l.Amount.String(),
				l.SKU,
				l.At,
			},
		)
	}
	if p.Bill.Tax > 0 {
		rows = append(rows, []string{"", "tax", "", "", "", p.Bill.Tax.String(), "", ""})
	}
	for _, w := range p.Bill.Without {
		rows = append(rows, []string{"", "cannot be had: " + w, "", "", "", "", "", ""})
	}
	rows = append(rows, []string{"", "total", "", "", p.Shop.Currency().Code, p.Bill.Total.String(), "", ""})
	return finish(csv.NewWriter(w), rows)
}

// finish writes rows, with a quote before anything a spreadsheet would run as
// a formula.
func finish(c *csv.Writer, rows [][]string) error {
	for _, r := range rows {
		for i, cell := range r {
			if cell != "" && (cell[0] == '=' || cell[0] == '+' || cell[0] == '@' || cell[0] == '-') {
				r[i] = "'" + cell
			}
		}
	}
	if err := c.WriteAll(rows); err != nil {
		return fmt.Errorf("write csv: %w", err)
	}
	return nil
}
