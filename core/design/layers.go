package design

import (
	"fmt"
	"math"
	"slices"
	"strconv"
	"strings"

	"chamfer/core/catalog"
	"chamfer/core/measure"
)

// Layer is one layer of a bed's filling, as it has settled; the top one, which has no depth
// of its own, takes what is left.
type Layer struct {
	Parts []Share
	Depth measure.Length // 0 of the top one
}

// Share is so many parts of a material in a mix.
type Share struct {
	Material string
	Parts    int
}

// Limits of layers.
const (
	mostLayers    = 8
	mostShares    = 6
	thinnest      = 10 * measure.Millimetre
	leastTop      = 50 * measure.Millimetre
	layersWritten = "write layers from the bottom like branches: 8 in; 3 topsoil + 2 compost: 6 in; mix"
)

// ReadLayers reads layers from the bottom up, "branches: 8 in; 3 topsoil + 2 compost: 6 in; mix".
// Nothing is one layer of mix.
func ReadLayers(text string, cat *catalog.Catalog) ([]Layer, error) {
	var list []Layer
	for _, part := range strings.Split(text, ";") {
		if strings.TrimSpace(part) == "" {
			continue
		}
		of, deep, given := strings.Cut(part, ":")
		var l Layer
		for _, s := range strings.Split(of, "+") {
			words := strings.Fields(strings.ToLower(s))
			share := Share{Parts: 1}
			if len(words) > 1 {
				n, err := strconv.Atoi(words[0])
				if err != nil || n < 1 || n > 99 {
					return nil, fmt.Errorf("%q is no number of parts: 1 to 99 works; %s", words[0], layersWritten)
				}
				share.Parts, words = n, words[1:]
			}
			m, ok := materialNamed(strings.Join(words, " "), cat)
			if !ok {
				return nil, fmt.Errorf("%q is nothing a bed is filled with here; there is %s", strings.TrimSpace(s),
					materialNames(cat))
			}
			if slices.ContainsFunc(l.Parts, func(o Share) bool { return o.Material == m }) {
				return nil, fmt.Errorf("%s stands twice in one mix", m)
			}
			share.Material = m
			l.Parts = append(l.Parts, share)
		}
		if len(l.Parts) > mostShares {
			return nil, fmt.Errorf("a mix of more than %d is not told apart any more", mostShares)
		}
		if given {
			var err error
			if l.Depth, err = measure.Parse(strings.TrimSpace(deep), cat.System); err != nil {
				return nil, fmt.Errorf("%w; %s", err, layersWritten)
			}
			if l.Depth < thinnest {
				return nil, fmt.Errorf("a layer of %v is none: from %v works", l.Depth, thinnest)
			}
		}
		list = append(list, l)
	}
	switch n := len(list); {
	case n == 0:
		return []Layer{{Parts: []Share{{catalog.Mixed, 1}}}}, nil
	case n > mostLayers:
		return nil, fmt.Errorf("%d layers are more than are kept apart: up to %d work", n, mostLayers)
	case list[n-1].Depth > 0:
		return nil, fmt.Errorf("the top layer takes what is left up to the soil's depth: leave its depth out")
	}
	for _, l := range list[:len(list)-1] {
		if l.Depth == 0 {
			return nil, fmt.Errorf("how deep is the layer of %s? Only the top one takes what is left",
				l.words(nil))
		}
	}
	if top := list[len(list)-1]; top.rough(cat) {
		return nil, fmt.Errorf("nothing grows in %s: put soil on top of it", top.words(nil))
	}
	return list, nil
}

// materialNamed finds a material by its ID or how its name begins.
func materialNamed(word string, cat *catalog.Catalog) (string, bool) {
	for _, m := range cat.Materials {
		if m.ID == word || strings.ToLower(m.Name) == word {
			return m.ID, true
		}
	}
	for _, m := range cat.Materials {
		if word != "" && strings.HasPrefix(strings.ToLower(m.Name), word) {
			return m.ID, true
		}
	}
	return "", false
}

func materialNames(cat *catalog.Catalog) string {
	var words []string
	for _, m := range cat.Materials {
		words = append(words, m.ID)
	}
	return strings.Join(words, ", ")
}

// rough reports whether a layer is filler.
func (l Layer) rough(cat *catalog.Catalog) bool {
	return slices.ContainsFunc(l.Parts, func(s Share) bool {
		m, err := cat.Material(s.Material)
		return err == nil && m.Kind == catalog.Rough
	})
}

// Rough reports whether a layer is filler below the soil.
func (l Layer) Rough(cat *catalog.Catalog) bool { return l.rough(cat) }

// words say what a layer is of, by the names of a catalogue, or by their IDs without one.
func (l Layer) words(cat *catalog.Catalog) string {
	var words []string
	for _, s := range l.Parts {
		name := s.Material
		if cat != nil {
			if m, err := cat.Material(name); err == nil {
				name = strings.ToLower(m.Name)
			}
		}
		if len(l.Parts) > 1 {
			name = fmt.Sprintf("%d %s", s.Parts, name)
		}
		words = append(words, name)
	}
	return strings.Join(words, " + ")
}

// Words say what a layer is of.
func (l Layer) Words(cat *catalog.Catalog) string { return l.words(cat) }

// WriteLayers writes layers so that [ReadLayers] reads just them; one of mix alone is nothing.
func WriteLayers(list []Layer) string { return writeLayers(list, measure.Length.String) }

func writeLayers(list []Layer, say func(measure.Length) string) string {
	if len(list) == 1 && len(list[0].Parts) == 1 && list[0].Parts[0].Material == catalog.Mixed {
		return ""
	}
	var parts []string
	for _, l := range list {
		words := l.words(nil)
		if l.Depth > 0 {
			words += ": " + say(l.Depth)
		}
		parts = append(parts, words)
	}
	return strings.Join(parts, "; ")
}

// LayersOf are a bed's, from the bottom; Check has seen to it that they can be read.
func (b Bed) LayersOf(cat *catalog.Catalog) []Layer {
	list, err := ReadLayers(b.Layers, cat)
	if err != nil {
		list, _ = ReadLayers("", cat)
	}
	return list
}

// layers refuses those that do not fit below the soil's surface.
func (c *checker) layers(b Bed) {
	list, err := ReadLayers(b.Layers, c.cat)
	if err != nil {
		c.refuse(b.ID, "filling", "%v", err)
		return
	}
	var sum measure.Length
	for _, l := range list {
		sum += l.Depth
	}
	if most := b.Soil - leastTop; sum > most {
		c.refuse(b.ID, "filling", "%s of layers under %s of soil leave too little on top: up to %s works", c.p.Short(sum),
			c.p.Short(b.Soil), c.p.AtMost(max(0, most)))
	}
}

// setLayer changes one layer of a bed, the n-th from the bottom: "120" drags its top up by so many
// millimetres, "depth 8 in", "of compost", "add straw" puts one under it, "up" and "remove".
func (b *Bed) setLayer(n, how string, cat *catalog.Catalog) error {
	list := b.LayersOf(cat)
	i, err := strconv.Atoi(n)
	if err != nil || i < 0 || i >= len(list) {
		return fmt.Errorf("there is no layer %q: it has %d", n, len(list))
	}
	verb, rest, _ := strings.Cut(strings.TrimSpace(how), " ")
	rest = strings.TrimSpace(rest)
	step := cat.Told(measure.Inch/2, 10*measure.Millimetre)
	last := len(list) - 1
	switch verb {
	case "remove":
		if last == 0 {
			return fmt.Errorf("something has to be in it: choose of what instead")
		}
		list = slices.Delete(list, i, i+1)
		list[len(list)-1].Depth = 0
	case "up":
		if i == last {
			return fmt.Errorf("it is on top already")
		}
		list[i].Parts, list[i+1].Parts = list[i+1].Parts, list[i].Parts
		if i+1 < last {
			list[i].Depth, list[i+1].Depth = list[i+1].Depth, list[i].Depth
		}
	case "add", "of":
		m, ok := materialNamed(strings.ToLower(rest), cat)
		if !ok {
			return fmt.Errorf("%q is nothing a bed is filled with here; there is %s", rest, materialNames(cat))
		}
		if verb == "of" {
			list[i].Parts = []Share{{m, 1}}
			break
		}
		deep := cat.Told(2*measure.Inch, 50*measure.Millimetre)
		list = slices.Insert(list, i, Layer{[]Share{{m, 1}}, deep})
	case "depth":
		if i == last {
			return fmt.Errorf("the top layer takes what is left: change the soil's depth, or a layer below")
		}
		if list[i].Depth, err = measure.Parse(rest, cat.System); err != nil {
			return err
		}
	default:
		mm, err := strconv.ParseFloat(verb, 64)
		if err != nil || rest != "" || math.IsNaN(mm) || math.Abs(mm) > farthest {
			return fmt.Errorf("%q is no change of a layer: drag it again, or type how deep it is", how)
		}
		if i == last {
			return fmt.Errorf("the top is the soil's surface: change the soil's depth on Bed")
		}
		to := measure.Length(math.Round((float64(list[i].Depth)+mm*float64(measure.Millimetre))/float64(step))) * step
		by := to - list[i].Depth
		list[i].Depth = max(to, 0)
		if i+1 < last { // what lies over it gives way
			list[i+1].Depth = max(list[i+1].Depth-by, 0)
		}
		list = slices.DeleteFunc(list, func(l Layer) bool { return l.Depth < thinnest && l.Depth != 0 })
		kept := list[:0]
		for k, l := range list {
			if k == len(list)-1 || l.Depth > 0 {
				kept = append(kept, l)
			}
		}
		list = kept
	}
	b.Layers = WriteLayers(list)
	b.Before = nil
	return nil
}

// layersText is a bed's layers as they would be typed.
func (b Bed) layersText(p measure.Precision) string {
	var parts []string
	for _, part := range strings.Split(b.Layers, "; ") {
		of, deep, given := strings.Cut(part, ": ")
		if l, err := measure.Parse(deep, measure.Metric); given && err == nil && p.Exact(l) {
			part = of + ": " + p.Short(l)
		}
		parts = append(parts, part)
	}
	return strings.Join(parts, "; ")
}

// fitLayers makes layers shallower where there is less soil than they are deep.
func (b *Bed) fitLayers(cat *catalog.Catalog) {
	list := b.LayersOf(cat)
	var sum measure.Length
	for _, l := range list {
		sum += l.Depth
	}
	most := max(0, b.Soil-leastTop)
	if sum <= most {
		return
	}
	step := cat.Told(measure.Inch/2, 10*measure.Millimetre)
	kept := list[:0]
	for i, l := range list {
		if l.Depth = measure.Length(float64(l.Depth)*float64(most)/float64(sum)) / step * step; i == len(list)-1 ||
			l.Depth >= thinnest {
			kept = append(kept, l)
		}
	}
	b.Layers = WriteLayers(kept)
}

// WetDensity is what a bed's filling weighs on average from bottom to top, wet, in kg/m³.
func (b Bed) WetDensity(cat *catalog.Catalog) float64 {
	list := b.LayersOf(cat)
	var sum float64
	rest := b.Soil
	for i, l := range list {
		var kg, parts float64
		for _, s := range l.Parts {
			kg, parts = kg+cat.WetOf(s.Material)*float64(s.Parts), parts+float64(s.Parts)
		}
		deep := l.Depth
		if i == len(list)-1 {
			deep = rest
		}
		sum += kg / parts * float64(deep)
		rest -= l.Depth
	}
	if _, layered := FieldOf(b, "filling"); !layered || b.Soil <= 0 {
		return cat.WetDensity()
	}
	sum += cat.WetOf(b.Mulch) * float64(b.MulchOf(cat))
	return sum / float64(b.Soil)
}

// Mulched reports whether something is laid on a bed's soil.
func (b Bed) Mulched() bool { return b.Mulch != "" && b.Mulch != Unfinished }

// MulchOf is how deep a bed's mulch lies: as it is said, else as is usual, no higher than the rim.
func (b Bed) MulchOf(cat *catalog.Catalog) measure.Length {
	switch {
	case !b.Mulched():
		return 0
	case b.MulchDeep > 0:
		return b.MulchDeep
	}
	usual := cat.Told(2*measure.Inch, 50*measure.Millimetre)
	return max(min(usual, b.Freeboard), thinnest)
}
