package design

import (
	"cmp"
	"fmt"
	"regexp"
	"slices"
	"strings"
	"unicode"

	"chamfer/core/catalog"
	"chamfer/core/measure"
)

// Understood is what was made of a sentence that asks for a bed: "30 sq ft, 12 in deep, of cedar, against the fence".
type Understood struct {
	Design  Design
	Heard   []Heard  // what was understood, in the order of the sentence
	Refused []string // of that, what cannot be, and why
	Left    []string // words nothing was made of
}

// Heard is some words of a sentence and what they were taken for: "12 in deep", "Soil depth: 1'", and the decision.
type Heard struct{ Words, Means, Field string }

// spoken is a decision that words mean.
type spoken struct{ field, value string }

// phrases are words that mean decisions, besides the names of systems, boards and timbers. Longer ones go first.
var phrases = map[string][]spoken{
	"against a fence": {{"access", "one"}}, "against the fence": {{"access", "one"}},
	"by the fence": {{"access", "one"}}, "against a wall": {{"access", "one"}},
	"against the wall": {{"access", "one"}}, "from one side": {{"access", "one"}},
	"against the house": {{"access", "one"}}, "along the fence": {{"access", "one"}},
	"along a wall": {{"access", "one"}}, "from both sides": {{"access", "both"}},
	"in the open": {{"access", "both"}}, "for children": {{"access", "both-child"}},
	"for a child": {{"access", "both-child"}}, "for kids": {{"access", "both-child"}},
	"wheelchair": {{"system", "legged"}, {"tended", "wheelchair"}}, "standing": {{"tended", "standing"}},
	"seated": {{"tended", "seated"}}, "sitting": {{"tended", "seated"}}, "salads": {{"grows", "salads"}},
	"salad": {{"grows", "salads"}}, "herbs": {{"grows", "salads"}}, "strawberries": {{"grows", "salads"}},
	"lettuce": {{"grows", "salads"}}, "beans": {{"grows", "greens"}}, "peas": {{"grows", "greens"}},
	"cabbages": {{"grows", "greens"}}, "carrots": {{"grows", "greens"}}, "tomatoes": {{"grows", "fruits"}},
	"potatoes": {{"grows", "fruits"}}, "squashes": {{"grows", "fruits"}}, "asparagus": {{"grows", "perennials"}},
	"rhubarb": {{"grows", "perennials"}}, "flowers": {{"grows", "flowers"}}, "on a deck": {{"on", "deck"}},
	"on the deck": {{"on", "deck"}}, "balcony": {{"on", "deck"}}, "roof": {{"on", "deck"}},
	"patio": {{"on", "slab"}}, "paving": {{"on", "slab"}}, "slabs": {{"on", "slab"}},
	"on concrete": {{"on", "slab"}}, "gravel": {{"on", "gravel"}}, "on legs": {{"system", "legged"}},
	"table": {{"system", "legged"}}, "raised planter": {{"system", "legged"}}, "on feet": {{"system", "footed"}},
	"small planter": {{"system", "footed"}}, "octagon": {{"system", "sided"}, {"sides", "8"}},
	"octagonal": {{"system", "sided"}, {"sides", "8"}}, "eight-sided": {{"system", "sided"}, {"sides", "8"}},
	"hexagon": {{"system", "sided"}, {"sides", "6"}}, "hexagonal": {{"system", "sided"}, {"sides", "6"}},
	"six-sided": {{"system", "sided"}, {"sides", "6"}}, "l-shaped": {{"system", "angled"}, {"shape", "l"}},
	"l shaped": {{"system", "angled"}, {"shape", "l"}}, "u-shaped": {{"system", "angled"}, {"shape", "u"}},
	"u shaped": {{"system", "angled"}, {"shape", "u"}}, "t-shaped": {{"system", "angled"}, {"shape", "t"}},
	"round": {{"system", "ring"}}, "circle": {{"system", "ring"}}, "ring": {{"system", "ring"}},
	"keyhole": {{"system", "keyhole"}}, "tiered": {{"system", "tiered"}}, "two tiers": {{"system", "tiered"}},
	"sleepers": {{"system", "sleeper"}}, "landscape timbers": {{"system", "sleeper"}},
	"terraces": {{"system", "terraces"}}, "terraced": {{"system", "terraces"}}, "poured": {{"system", "poured"}},
	"concrete blocks": {{"system", "hollow-block"}}, "hollow blocks": {{"system", "hollow-block"}},
	"slotted blocks": {{"system", "slotted"}}, "blocks": {{"system", "block-wall"}},
	"bricks": {{"system", "block-wall"}}, "brick": {{"system", "block-wall"}}, "stakes": {{"system", "staked"}},
	"staked": {{"system", "staked"}}, "pickets": {{"system", "cleated"}}, "pots": {{"system", "carrier"}},
	"grow bags": {{"system", "carrier"}}, "against gophers": {{"mesh", "mesh"}}, "gophers": {{"mesh", "mesh"}},
	"moles": {{"mesh", "mesh"}}, "voles": {{"mesh", "mesh"}}, "mesh": {{"mesh", "mesh"}},
	"a cap": {{"cap", "mitred"}}, "cap": {{"cap", "mitred"}}, "mitred cap": {{"cap", "mitred"}},
	"trellis": {{"trellis", "wire"}}, "hoops": {{"hoops", "pipe"}}, "bench": {{"bench", "front"}},
	"lined": {{"liner", "fabric"}}, "deer": {{"fence", "net"}}, "rabbits": {{"fence", "net"}},
	"drip": {{"water", "drip"}}, "drip lines": {{"water", "drip"}}, "oiled": {{"finish", "linseed"}},
	"linseed oil": {{"finish", "linseed"}}, "stained": {{"finish", "stain"}}, "mulched": {{"mulch", "straw"}},
	"planting grid": {{"grid", "string"}}, "cardboard": {{"under", "cardboard"}},
}

// idle words say nothing of a bed by themselves.
var idle = strings.Fields("a an and the of in to for with from on at by me my we i want need like please would bed" +
	" beds raised planter garden box boxes frame that is it some build make made using out as deep long" +
	" wide high tall soil planting area timber wood lumber boards board sides side about roughly or" +
	" so x depth feet inches")

const (
	numeral   = `(?:\d+(?:[.,]\d+)?(?:[ -]\d+/\d+|/\d+)?|[½¼¾])`
	inchUnit  = `(?:(?:inches|inch|in)\b\.?|["″])`
	lengthOne = numeral + `\s*(?:` + inchUnit + `|(?:millimetres|mm|centimetres|cm|metres|meters|m)\b\.?|` +
		`(?:(?:feet|foot|ft)\b\.?|['′])(?:\s*` + numeral + `\s*` + inchUnit + `?)?)`
	lengthAny = `(?:` + lengthOne + `|` + numeral + `)`
)

var (
	saidArea = regexp.MustCompile(`(\d+(?:[.,]\d+)?)\s*(sq\.?\s*(?:ft|feet|foot|m)\b|square (?:feet|foot|metres|meters)` +
		`|ft2|m2|ft²|m²)`)
	saidPair = regexp.MustCompile(`(` + lengthAny + `\s*(?:x|×|by)\s*` + lengthAny + `)(?:\s*(?:x|×|by)\s*(` +
		lengthAny + `))?`)
	saidSize  = regexp.MustCompile(`(` + lengthOne + `)\s*(deep|of soil|long|wide|across)`)
	saidBoard = regexp.MustCompile(`(?:of |in |from |using |with )?\b(\d+x\d+)s?\b( boards?)?`)
	saidCount = regexp.MustCompile(`\b(two|three|four|five|six|\d+) (?:raised )?(?:beds|planters|boxes|of them)\b`)
	wordOf    = regexp.MustCompile(`[\p{L}][\p{L}'-]*|\d[\d.,/]*`)
)

// roles are the sizes that words behind a length make of it.
var roles = map[string]string{"deep": "soil", "of soil": "soil", "long": "length", "wide": "width", "across": "length"}

// Phrases are the words that are understood besides sizes, boards and timbers, in order: names of systems among them.
func Phrases() []string {
	list := make([]string, 0, len(phrases))
	for words := range spokenWords() {
		list = append(list, words)
	}
	slices.Sort(list)
	return list
}

// spokenWords are all phrases with what they decide.
func spokenWords() map[string][]spoken {
	known := map[string][]spoken{}
	for _, s := range Systems() {
		known[strings.ToLower(s.Title)] = []spoken{{"system", s.Name}}
	}
	for words, sets := range phrases {
		known[words] = sets
	}
	return known
}

// listener hears a sentence: what it has understood it takes out.
type listener struct {
	text  string // what is left of it, in lower case; what was taken is blank
	cat   *catalog.Catalog
	heard []heardAt
}

type heardAt struct {
	at    int
	words string
	sets  []spoken
	area  measure.Area
}

// take blanks what was understood and keeps it.
func (l *listener) take(from, to int, h heardAt) {
	h.at, h.words = from, strings.TrimSpace(l.text[from:to])
	l.text = l.text[:from] + strings.Repeat("\x00", to-from) + l.text[to:]
	l.heard = append(l.heard, h)
}

// Understand makes a project with one bed of a sentence. What was not said is as that way of building usually starts;
// what was said and cannot be is left out and told. It fails where nothing was understood.
func Understand(text, name string, cat *catalog.Catalog) (Understood, error) {
	l := &listener{text: strings.ToLower(text), cat: cat}
	if len(l.text) != len(text) || len(text) > 500 { // a letter that changes its size
		l.text = strings.ToLower(strings.Map(func(r rune) rune {
			if r > unicode.MaxLatin1 && !strings.ContainsRune("×′″²½¼¾", r) {
				return ' '
			}
			return r
		}, text[:min(len(text), 500)]))
	}
	l.sizes()
	l.words()
	slices.SortStableFunc(l.heard, func(a, b heardAt) int { return a.at - b.at })
	var out Understood
	for _, w := range wordOf.FindAllString(l.text, -1) {
		if !slices.Contains(idle, w) && !slices.Contains(out.Left, w) {
			out.Left = append(out.Left, w)
		}
	}
	if len(l.heard) == 0 {
		return out, &Refusal{Field: "say", Value: text, Reason: "nothing in that says how large or of what:" +
			" “30 sq ft, 12 in deep, of cedar, against the fence” works, or “4 x 8, of 2x8, with a cap”"}
	}
	err := out.build(l, name)
	return out, err
}

// sizes hears areas, sizes, boards and numbers of beds.
func (l *listener) sizes() {
	for _, m := range slices.Backward(saidArea.FindAllStringSubmatchIndex(l.text, -1)) {
		unit := "m2"
		if strings.Contains(l.text[m[4]:m[5]], "f") {
			unit = "sq ft"
		}
		if a, err := measure.ParseArea(l.text[m[2]:m[3]]+" "+unit, l.cat.System); err == nil {
			l.take(m[0], m[1], heardAt{area: a})
		}
	}
	sized := len(l.heard) > 0
	for _, m := range slices.Backward(saidBoard.FindAllStringSubmatchIndex(l.text, -1)) {
		id := l.text[m[2]:m[3]]
		alone := m[0] == m[2] && m[4] < 0 // "4x8" by itself is a size
		other := sized || saidPair.MatchString(l.text[:m[0]]+" "+l.text[m[1]:])
		if p, err := l.cat.Profile(id); err == nil && p.Kind == catalog.Board && (!alone || other) {
			l.take(m[0], m[1], heardAt{sets: []spoken{{"board", id}}})
		}
	}
	for _, m := range slices.Backward(saidPair.FindAllStringSubmatchIndex(l.text, -1)) {
		long, wide, ok, err := measure.ParsePair(l.text[m[2]:m[3]], l.cat.System)
		if !ok || err != nil {
			continue
		}
		h := heardAt{sets: []spoken{{"length", long.String()}, {"width", wide.String()}}}
		if m[4] >= 0 {
			third := l.text[m[4]:m[5]]
			if deep, err := measure.Parse(third, l.cat.System); err == nil {
				if n, err := measure.ParseNumber(third); err == nil && l.cat.System == measure.Imperial && n <= 3 {
					deep = measure.Length(n * float64(measure.Foot)) // 4 x 8 x 1
				}
				h.sets = append(h.sets, spoken{"soil", deep.String()})
			}
		}
		l.take(m[0], m[1], h)
	}
	for _, m := range slices.Backward(saidSize.FindAllStringSubmatchIndex(l.text, -1)) {
		field := roles[l.text[m[4]:m[5]]]
		if size, err := measure.Parse(l.text[m[2]:m[3]], l.cat.System); err == nil {
			l.take(m[0], m[1], heardAt{sets: []spoken{{field, size.String()}}})
		}
	}
	for _, m := range slices.Backward(saidCount.FindAllStringSubmatchIndex(l.text, -1)) {
		n := l.text[m[2]:m[3]]
		if i := slices.Index([]string{"two", "three", "four", "five", "six"}, n); i >= 0 {
			n = fmt.Sprint(i + 2)
		}
		l.take(m[0], m[1], heardAt{sets: []spoken{{"count", n}}})
	}
}

// words hears phrases, systems by their names, and timbers.
func (l *listener) words() {
	known := spokenWords()
	list := Phrases()
	slices.SortStableFunc(list, func(a, b string) int { return len(b) - len(a) })
	for _, words := range list {
		for from := 0; ; {
			i := strings.Index(l.text[from:], words)
			if i < 0 {
				break
			}
			i += from
			from = i + len(words)
			if !letterAt(l.text, i-1) && !letterAt(l.text, from) {
				l.take(i, from, heardAt{sets: known[words]})
			}
		}
	}
	l.timber()
}

func letterAt(text string, i int) bool {
	return i >= 0 && i < len(text) && (text[i] >= 'a' && text[i] <= 'z' || text[i] >= 0x80)
}

// timber hears a timber by the words of its name; of several that share them the one with the most.
func (l *listener) timber() {
	best, most := "", 0
	var spots [][]int
	for _, s := range l.cat.Species {
		var found [][]int
		for _, w := range wordOf.FindAllString(strings.ToLower(s.Name), -1) {
			if slices.Contains(idle, w) || len(w) < 4 || w == "ground" || w == "contact" || w == "western" || w == "southern" {
				continue
			}
			if at := regexp.MustCompile(`\b` + regexp.QuoteMeta(w) + `\b`).FindStringIndex(l.text); at != nil {
				found = append(found, at)
			}
		}
		if len(found) > most {
			best, most, spots = s.ID, len(found), found
		}
	}
	for i, at := range spots {
		h := heardAt{}
		if i == 0 {
			h.sets = []spoken{{"species", best}}
		}
		l.take(at[0], at[1], h)
	}
}

// build makes the bed of what was heard: what it is first, then how large, then all else.
func (u *Understood) build(l *listener, name string) error {
	all := map[string]string{}
	var area measure.Area
	for _, h := range l.heard {
		area = max(area, h.area)
		for _, s := range h.sets {
			if _, said := all[s.field]; !said {
				all[s.field] = s.value
			}
		}
	}
	d, err := NewOf(l.cat, name, all["system"])
	if err != nil {
		return err
	}
	delete(all, "system")
	if area > 0 && all["length"] == "" {
		soil := d.Beds[0].Soil
		if said, err := measure.Parse(all["soil"], l.cat.System); err == nil {
			soil = said
		}
		if all["access"] == "one" { // as far as an arm reaches, before it is made as long as it takes
			d.Beds[0].Access = "one"
		}
		d.OfArea(area, soil, l.cat)
	}
	order := []string{"access", "on", "species", "board", "sides", "shape", "length", "width", "soil"}
	keys := slices.Collect(func(yield func(string) bool) {
		for k := range all {
			if !yield(k) {
				return
			}
		}
	})
	slices.SortFunc(keys, func(a, b string) int {
		i, j := slices.Index(order, a), slices.Index(order, b)
		if i < 0 {
			i = len(order)
		}
		if j < 0 {
			j = len(order)
		}
		if i != j {
			return i - j
		}
		return strings.Compare(a, b)
	})
	// All of it at once; where that cannot be, one after the other, and what cannot be is told.
	edits := make([]Edit, 0, len(keys))
	for _, k := range keys {
		edits = append(edits, Edit{Bed: d.Beds[0].ID, Field: k, Value: all[k]})
	}
	out := map[string]bool{}
	next, err := Apply(d, l.cat, edits...)
	if err != nil {
		next = d
		for _, e := range edits {
			after, err := Apply(next, l.cat, e)
			if err != nil {
				out[e.Field] = true
				reason := err.Error()
				if list := Refusals(err); len(list) > 0 {
					reason = list[0].Reason
				}
				u.Refused = append(u.Refused, reason)
				continue
			}
			next = after
		}
	}
	u.Design = next
	if err := Check(next, l.cat); err != nil {
		return err
	}
	u.say(l, out)
	return nil
}

// say puts what was heard into the words of the decisions.
func (u *Understood) say(l *listener, refused map[string]bool) {
	b := u.Design.Beds[0]
	pr := l.cat.Precision(l.cat.Habits)
	for _, h := range l.heard {
		var means []string
		first := ""
		if h.area > 0 {
			first = "length"

			means = append(means, fmt.Sprintf("Planting: %s", l.cat.System.Area(h.area)))
		}
		for _, s := range h.sets {
			f, ok := FieldOf(b, s.field)
			if !ok || refused[s.field] {
				continue
			}
			value := f.Text(b, pr)
			for _, c := range f.Choices(l.cat, b) {
				if c.Value == value {
					value = c.Label
				}
			}
			first = cmp.Or(first, s.field)
			means = append(means, f.Label+": "+value)
		}
		if len(means) > 0 {
			u.Heard = append(u.Heard, Heard{Words: h.words, Means: strings.Join(means, ", "), Field: first})
		}
	}
}
