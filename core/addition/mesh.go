package addition

import (
	"slices"
	"strings"

	"chamfer/core/catalog"
	"chamfer/core/design"
	"chamfer/core/frame"
	"chamfer/core/measure"
)

// Mesh keeps what digs out of the bed: under it, turned up at the walls.
var Mesh = design.Extra{Name: "mesh", Fields: []design.Field{
	{
		Key:     "mesh",
		Label:   "Mesh against burrowers",
		Stage:   design.AtGround,
		Kind:    design.ChoiceField,
		Default: design.NotThere,
		Help: "Under the bed, turned up the walls 3 to 4 in (75 to 100 mm), laps 4 in (100 mm) (common" +
			" practice). Cut ends are sharp: gloves, and points turned in.",
		Offers: orNone("where nothing digs",
			design.Choice{Value: "mesh", Label: "a basket of mesh", Note: "under voles, gophers and rats"}),
	},
	{
		Key:     "turn_up",
		Label:   "Mesh turned up the walls",
		Stage:   design.AtGround,
		Kind:    design.LengthField,
		Default: "3 in",
		Metric:  "75 mm",
	},
	{
		Key:     "mesh_lies",
		Label:   "Mesh and what else is under the bed",
		Stage:   design.AtGround,
		Kind:    design.ChoiceField,
		Default: "over",
		Idle: func(b design.Bed) string {
			if b.Under == "none" {
				return "nothing else lies under the bed"
			}
			return ""
		},
		Offers: []design.Choice{
			{Value: "over", Label: "the mesh over it", Note: "card smothers the grass to the walls' outer edge"},
			{Value: "below", Label: "the mesh below it", Note: "nothing sharp under the fork; card inside the walls only"}},
	}},
	Check: checkMesh,
}

func checkMesh(b design.Bed, cat *catalog.Catalog, refuse design.Refuse) {
	p := cat.Precision(cat.Habits)
	if up := b.OptionLength("turn_up"); up > b.Soil {
		refuse("turn_up", "%s is above the soil; up to %s works", p.Feet(up), p.AtMost(b.Soil))
	}
}

// buildMesh lays a basket in every bed of the frame that stands on the ground: on boards it is
// stapled, on stone the soil holds it up.
func buildMesh(s *site) {
	for i, c := range s.f.Cavities {
		if c.Pot || s.over(c) {
			continue
		}
		lo, hi := c.Outline[0], c.Outline[0]
		for _, p := range c.Outline {
			lo, hi = frame.Spot{U: min(lo.U, p.U), V: min(lo.V, p.V)}, frame.Spot{U: max(hi.U, p.U), V: max(hi.V, p.V)}
		}
		mesh := frame.Sheet{ID: s.id("mesh"), Bed: s.bed.ID, Material: "mesh", Inside: true, Cavity: c.ID,
			Place:  "on the ground inside, cut to the walls and turned up them",
			Length: hi.U - lo.U, Width: hi.V - lo.V, TurnUp: s.bed.OptionLength("turn_up")}
		if i > 0 {
			mesh.ID = s.id("mesh.%d", i+1)
		}
		if s.boards() > 0 {
			mesh.Stapled = 2 * (mesh.Length + mesh.Width)
		}
		s.f.Sheets = append(s.f.Sheets, mesh)
	}
}

// over reports whether a bed of soil lies on another.
func (s *site) over(c frame.Cavity) bool {
	var mid frame.Spot
	for _, q := range c.Outline {
		mid.U, mid.V = mid.U+q.U, mid.V+q.V
	}
	n := measure.Length(len(c.Outline))
	mid = frame.Spot{U: mid.U / n, V: mid.V / n}
	for _, o := range s.f.Cavities {
		if o.ID != c.ID && o.Top == c.Bottom && frame.Inside(o.Outline, mid) {
			return true
		}
	}
	return false
}

// lieOver lays card or cloth inside, over the mesh, where that was decided.
func lieOver(f *frame.Frame, bed design.Bed) {
	if !bed.Has("mesh") || bed.Options["mesh_lies"] != "below" {
		return
	}
	var meshes, under, rest []frame.Sheet
	for _, s := range f.Sheets {
		switch {
		case s.Material == "mesh" && s.Inside && s.TurnUp > 0:
			meshes = append(meshes, s)
		case !s.Inside && !s.Outside && strings.HasPrefix(s.ID, bed.ID+".under"):
			under = append(under, s)
		default:
			rest = append(rest, s)
		}
	}
	if len(meshes) != len(under) { // where they do not answer one another the ground is covered first
		return
	}
	for i := range under {
		under[i].Inside, under[i].Place = true, "inside, on the mesh"
		under[i].Length, under[i].Width = meshes[i].Length, meshes[i].Width
	}
	f.Sheets = slices.Concat(meshes, under, rest)
}
