// Package addition is what can be added to a bed whatever it is built of: hoops for net, strings
// to plant by, a trellis, a fence with a gate. What is added reads the walls that stand and
// stands on them where they are boards, and in the soil or the ground where they are not:
//
//	 ___________
//	/           \        a hoop over a wall of blocks: its feet go over pins in the soil
//	|___________|___
//	|::|     |::|
//
// A system says which of them it offers, and which its own builder makes.
package addition

import (
	"fmt"
	"math"
	"slices"

	"chamfer/core/catalog"
	"chamfer/core/design"
	"chamfer/core/frame"
	"chamfer/core/measure"
	"chamfer/core/strength"
)

// Addition is its decisions, and what it puts on a frame that stands.
type Addition struct {
	design.Extra
	Build func(*site)
}

// additions in the order they are offered and put on. A new one is its own file and a word here.
var additions = []Addition{
	{Extra: Mesh, Build: buildMesh},
	{Extra: Grid, Build: buildStrings},
	{Extra: Trellis, Build: buildTrellis},
	{Extra: hoops, Build: buildHoops},
	{Extra: fence, Build: buildFence},
}

func init() {
	for _, a := range additions {
		design.RegisterExtra(a.Extra)
	}
}

// site is a frame that something is added to.
type site struct {
	f   *frame.Frame
	bed design.Bed
	cat *catalog.Catalog
}

// Build puts on what a bed has that its own builder does not make.
func Build(f *frame.Frame, bed design.Bed, cat *catalog.Catalog) {
	s, _ := design.SystemNamed(bed.System)
	for _, a := range additions {
		if bed.Has(a.Name) && !slices.Contains(s.Makes, a.Name) {
			a.Build(&site{f, bed, cat})
		}
	}
	lieOver(f, bed)
}

func (s *site) id(format string, args ...any) string {
	return s.bed.ID + "." + fmt.Sprintf(format, args...)
}

// boards is how thick the walls' boards are, 0 where they are of something else.
func (s *site) boards() measure.Length {
	for _, p := range s.f.Parts {
		if p.Course > 0 && len(s.f.Units) == 0 {
			return p.Thickness
		}
	}
	return 0
}

// put adds a whole piece of a profile where its body is.
func (s *site) put(p catalog.Profile, kind frame.PartKind, role, id string, body frame.Prism, grain frame.Axis,
	fields ...string) frame.Part {
	lo, hi := body.Bounds()
	part := frame.Part{ID: s.id("%s", id), Bed: s.bed.ID, Role: role, Kind: kind, Profile: p.ID,
		Species: design.SpeciesFor(s.cat, p.ID, s.bed.Species), Width: p.Width, Thickness: p.Thickness,
		Ends: [2]frame.End{frame.Square, frame.Square}, Fields: fields, Grain: grain, Body: body,
		Length: hi.Along(grain) - lo.Along(grain)}
	s.f.Parts = append(s.f.Parts, part)
	return part
}

// outline is an opening's, from above.
func outline(o frame.Opening) []frame.Spot {
	if o.Round != nil {
		return o.Round
	}
	return []frame.Spot{o.Lo, {U: o.Hi.U, V: o.Lo.V}, o.Hi, {U: o.Lo.U, V: o.Hi.V}}
}

// chords are the stretches of an outline, front to back, at so far along; turned, along it at
// so far out.
func chords(o []frame.Spot, at measure.Length, turned bool) [][2]measure.Length {
	var hits []measure.Length
	for i, a := range o {
		b := o[(i+1)%len(o)]
		if turned {
			a, b = frame.Spot{U: a.V, V: a.U}, frame.Spot{U: b.V, V: b.U}
		}
		if (a.U <= at) == (b.U <= at) {
			continue
		}
		t := float64(at-a.U) / float64(b.U-a.U)
		hits = append(hits, a.V+measure.Length(math.Round(t*float64(b.V-a.V))))
	}
	slices.Sort(hits)
	var list [][2]measure.Length
	for i := 1; i < len(hits); i += 2 {
		list = append(list, [2]measure.Length{hits[i-1], hits[i]})
	}
	return list
}

// orNone is a choice of something that is not there at first.
func orNone(note string, offers ...design.Choice) []design.Choice {
	return append([]design.Choice{{Value: design.NotThere, Label: "none", Note: note}}, offers...)
}

// Stick is what stakes, and uprights on a wall, are of.
func Stick(cat *catalog.Catalog) (catalog.Profile, error) {
	return firstOf(cat, catalog.Stake, "stakes")
}

// postOf is what posts that stand alone are of: the first square post that the shop has.
func postOf(cat *catalog.Catalog) (catalog.Profile, error) {
	return firstOf(cat, catalog.Post, "posts")
}

func firstOf(cat *catalog.Catalog, kind catalog.ProfileKind, name string) (catalog.Profile, error) {
	i := slices.IndexFunc(cat.Profiles, func(p catalog.Profile) bool { return p.Kind == kind })
	if i < 0 {
		return catalog.Profile{}, fmt.Errorf("%s: %w", name, catalog.ErrNotSold)
	}
	return cat.Profiles[i], nil
}

func upright(x, y, q, z0, z1 measure.Length) frame.Prism {
	return frame.Prism{Axis: frame.Z, From: z0, To: z1, Outline: []frame.Spot{{U: x, V: y}, {U: x + q, V: y},
		{U: x + q, V: y + q}, {U: x, V: y + q}}}
}

// The depths that posts are set to: from one and a half feet in steps to four, 450 to 1200 mm;
// deeper holes nobody digs by hand (common practice).
var depths = []measure.Length{450, 600, 750, 900, 1050, 1200}

// rooted is how deep a post has to stand so that the ground holds a push in N at a height, or
// as deep as anybody digs and the shop's longest reaches from its head.
func (s *site) rooted(post catalog.Profile, push float64, height, head measure.Length) measure.Length {
	deep, longest := measure.Length(0), longestOf(s.bed, s.cat, post)
	for i, d := range depths {
		next := s.cat.Told(measure.Length(18+6*i)*measure.Inch, d*measure.Millimetre)
		if deep > 0 && head+next > longest {
			break
		}
		deep = next
		if (strength.Pole{Height: height, Wide: post.Width, Deep: deep}).Most() >= push*strength.BriefFactor {
			break
		}
	}
	return deep
}

// longestOf is the longest piece the shop has of a post in the timber it comes in for a bed.
func longestOf(b design.Bed, cat *catalog.Catalog, post catalog.Profile) measure.Length {
	longest := measure.Length(0)
	for _, o := range cat.OffersOf(post.ID, design.SpeciesFor(cat, post.ID, b.Species)) {
		longest = max(longest, o.Length)
	}
	return longest
}

// checkPosts refuses posts in what they cannot be set in, and where none are sold as long.
func checkPosts(b design.Bed, cat *catalog.Catalog, field, high string, refuse design.Refuse) {
	p := cat.Precision(cat.Habits)
	post, err := postOf(cat)
	if err != nil {
		refuse(field, "%v", err)
		return
	}
	least := cat.Told(18*measure.Inch, 450*measure.Millimetre)
	if longest, head := longestOf(b, cat, post), b.OptionLength(high); head+least > longest {
		refuse(high, "posts for it would be %s long with %s in the ground, and the shop has them up to %s: up to %s works",
			p.Feet(head+least), p.Feet(least), p.Feet(longest), p.AtMost(longest-least))
	}
	if _, err := Stick(cat); err != nil {
		refuse(field, "%v", err)
	}
	if b.On.Firm() {
		refuse(field, "its posts stand in the ground, and this bed stands on a %s: without it works", b.On)
	}
}
