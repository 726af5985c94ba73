package plan

import (
	"cmp"
	"encoding/json"
	"fmt"
	"slices"
	"strconv"
	"strings"

	"chamfer/core/catalog"
	"chamfer/core/cutting"
	"chamfer/core/design"
	"chamfer/core/measure"
)

// How is how a board fared at the saw.
type How string

// How it can go.
const (
	Cut     How = ""      // as planned
	Short   How = "short" // the piece after the good ones was cut wrong
	Spoiled How = "spoil" // nothing more comes out of the board
)

// Whole reports whether a board is cut as a whole or not at all: one that is
// ripped, or that the shop has parted.
func Whole(b cutting.Board) bool {
	return len(b.Strips) > 0 || len(b.Blanks) > 0 || b.Part > 0 || len(b.Left) > 0
}

// AtSaw is the edit that takes down what happened to a board of the plan, so many
// times: n good pieces came off it, in their order. It fails where the plan has no
// such board.
func (p *Plan) AtSaw(group, board, n, times int, how How) (design.Edit, error) {
	if group < 0 || group >= len(p.Cuts) || board < 0 || board >= len(p.Cuts[group].Answer.Boards) {
		return design.Edit{}, fmt.Errorf("no board %d of kind %d in this plan", board, group)
	}
	c := p.Cuts[group]
	b := c.Answer.Boards[board]
	entry := c.sawn(b, n, how)
	var list []design.SawEntry
	for range min(max(times, 1), b.Count) {
		list = append(list, entry)
	}
	raw, err := json.Marshal(list)
	return design.Edit{Field: "saw", Value: string(raw)}, err
}

func (c Cuts) sawn(b cutting.Board, n int, how How) design.SawEntry {
	e := design.SawEntry{
		Sawn: design.Sawn{Profile: c.Profile.ID, Species: c.Species.ID, SKU: b.Stock.ID, Length: b.Stock.Length},
	}
	if at, ok := numbered(HandStock, b.Stock.ID); ok {
		i := int(at)
		e.At = &i
	}
	switch n = min(max(n, 0), len(b.Cuts)); {
	case !Whole(b):
	case how == Cut:
		n = len(b.Cuts)
	default:
		n, how = 0, Spoiled
	}
	for _, cut := range b.Cuts[:n] {
		e.Cuts = append(e.Cuts, design.SawnCut{Length: cut.Length, Width: cut.Width, Count: cut.Out})
	}
	if how == Cut {
		for _, r := range c.strips(b, n) {
			if r.Length >= worthKeeping && r.Width >= stripWorth {
				e.Strips = append(e.Strips, r)
			}
		}
	}
	last := n - 1
	if how == Short && n < len(b.Cuts) {
		last = n
		e.Cuts = append(e.Cuts, design.SawnCut{Length: b.Cuts[n].Length, Waste: true})
	}
	switch {
	case how == Spoiled || Whole(b): // the plan does not go on with strips; the shed gets them
	case last < 0:
		e.Left = b.Stock.Clear(0)
	case how == Cut:
		e.Left = b.Offcut
	default:
		e.Left = b.Stock.Clear(b.Cuts[last].End() + c.Request.Kerf)
	}
	return e
}

// numbered reads the number of stock that is not bought.
func numbered(kind, sku string) (int64, bool) {
	rest, ok := strings.CutPrefix(sku, kind)
	n, err := strconv.ParseInt(rest, 10, 64)
	return n, ok && err == nil
}

// worthKeeping is the shortest leftover that goes back into the shed (common
// practice: about a foot).
const worthKeeping = 300 * measure.Millimetre

// stripWorth is the narrowest strip that does (common practice: an inch, a batten
// or a cleat).
const stripWorth = 25 * measure.Millimetre

// strips are what is left of a board that is ripped: the ends of its strips, what
// is left of its width, and that beside the pieces of a blank among the first n
// cuts.
func (c Cuts) strips(b cutting.Board, n int) []design.Strip {
	var list []design.Strip
	rest := b.Stock.Width
	for i, w := range b.Strips {
		rest -= w + c.Request.Kerf
		if len(b.Left) == len(b.Strips) {
			list = append(list, design.Strip{Length: b.Left[i], Width: w})
		} else if len(b.Strips) == 1 {
			list = append(list, design.Strip{Length: b.Offcut, Width: w})
		}
	}
	if len(b.Strips) > 0 {
		return append(list, design.Strip{Length: b.Stock.Clear(0), Width: rest})
	}
	for i, blank := range b.Blanks {
		rest, ends := b.Stock.Width, make([]measure.Length, len(blank.Strips))
		for _, cut := range b.Cuts[:n] {
			if cut.Blank == i+1 {
				ends[cut.Strip-1] = max(ends[cut.Strip-1], cut.End()+c.Request.Kerf)
			}
		}
		for s, w := range blank.Strips {
			rest -= w + c.Request.Kerf
			list = append(list, design.Strip{Length: max(0, blank.At+blank.Length-ends[s]), Width: w})
		}
		list = append(list, design.Strip{Length: blank.Length, Width: rest})
	}
	for i, cut := range b.Cuts[:n] {
		if cut.Blank > 0 || c.ripped(cut.Width) == 0 || i > 0 && b.Cuts[i-1].At == cut.At {
			continue
		}
		out := measure.Length(0)
		for _, o := range b.Cuts {
			if o.At == cut.At {
				out += measure.Length(max(1, o.Out))
			}
		}
		list = append(list, design.Strip{Length: cut.Length, Width: b.Stock.Width - out*(cut.Width+c.Request.Kerf)})
	}
	return list
}

// Leaves is what the finished job leaves that is worth keeping, and what it took
// from the shed, by number.
func (p *Plan) Leaves() (left []catalog.Leftover, taken map[int64]int) {
	taken = map[int64]int{}
	take := func(sku string, n int) {
		if id, ok := numbered(ShedStock, sku); ok {
			taken[id] += n
		}
	}
	for _, c := range p.Cuts {
		put := func(length, width measure.Length, n int) {
			if length >= worthKeeping && width >= stripWorth {
				left = append(
					left,
					catalog.Leftover{
						Profile:  c.Profile.ID,
						Species:  c.Species.ID,
						Length:   length,
						Width:    c.ripped(width),
						Quantity: n,
					},
				)
			}
		}
		cutting := map[int]bool{} // boards that the plan goes on with
		for _, b := range c.Answer.Boards {
			take(b.Stock.ID, b.Count)
			if at, ok := numbered(HandStock, b.Stock.ID); ok {
				cutting[int(at)] = true
			}
			if len(b.Strips) == 0 {
				put(b.Offcut, b.Stock.Width, b.Count)
			}
			for _, s := range c.strips(b, len(b.Cuts)) {
				put(s.Length, s.Width, b.Count)
			}
		}
		for _, i := range c.Sawn {
			take(p.Design.Saw[i].SKU, 1)
			for _, s := range p.Design.Saw[i].Strips {
				put(s.Length, s.Width, 1)
			}
			if !cutting[i] {
				put(p.Design.Saw[i].Left, c.Profile.Width, 1)
			}
		}
	}
	return left, taken
}

// CountedOn lists the boards of the shed that the plan counts on, those that have been to
// the saw among them, as many as it takes.
func (p *Plan) CountedOn() []catalog.Leftover {
	_, taken := p.Leaves()
	var list []catalog.Leftover
	for _, l := range p.Shop.Shed {
		if n := taken[l.ID]; n > 0 {
			l.Quantity = min(n, l.Quantity)
			list = append(list, l)
		}
	}
	return list
}

// Setup is all cuts of one length, for a stop block.
type Setup struct {
	Length  measure.Length
	Count   int // cuts
	Blanks  int // of them that take a blank off, which is then ripped into strips
	Letters []LetterCount
}

// LetterCount is how many pieces of a letter come out of a set-up's cuts.
type LetterCount struct {
	Letter string
	Count  int
	Width  measure.Length // they are ripped to; 0 for the board's own
}

// Words says what comes out of a set-up's cuts: "4 × A; 2 × B, ripped to 90 mm".
func (s Setup) Words(pr measure.Precision) string {
	var of []string
	for _, l := range s.Letters {
		words := fmt.Sprintf("%d × %s", l.Count, l.Letter)
		if l.Width > 0 {
			words += ", ripped to " + pr.Short(l.Width)
		}
		of = append(of, words)
	}
	if s.Blanks > 0 {
		of = append(of, measure.Count(s.Blanks, "blank")+" to rip")
	}
	return strings.Join(of, "; ")
}

// Setups groups what is still to cut by length, longest first. A blank that is ripped into
// pieces of two letters is one cut, and all its pieces are told; a piece as long as the blank
// that it is ripped from is not cut again.
func (c Cuts) Setups() []Setup {
	var list []Setup
	at := func(l measure.Length) *Setup {
		k := slices.IndexFunc(list, func(s Setup) bool { return s.Length == l })
		if k < 0 {
			k = len(list)
			list = append(list, Setup{Length: l})
		}
		return &list[k]
	}
	for _, b := range c.Answer.Boards {
		for _, blank := range b.Blanks {
			s := at(blank.Length)
			s.Count, s.Blanks = s.Count+b.Count, s.Blanks+b.Count
		}
		for i, cut := range b.Cuts {
			s := at(cut.Length)
			again := i > 0 && b.Cuts[i-1].At == cut.At && b.Cuts[i-1].Strip == cut.Strip &&
				b.Cuts[i-1].Blank == cut.Blank
			if whole := cut.Blank > 0 && b.Blanks[cut.Blank-1].Length == cut.Length; !again && !whole {
				s.Count += b.Count
			}
			width := cut.Width
			if width == b.Stock.Width {
				width = 0
			}
			l := slices.IndexFunc(
				s.Letters,
				func(l LetterCount) bool { return l.Letter == cut.Piece && l.Width == width },
			)
			if l < 0 {
				l = len(s.Letters)
				s.Letters = append(s.Letters, LetterCount{Letter: cut.Piece, Width: width})
			}
			s.Letters[l].Count += b.Count * max(1, cut.Out)
		}
	}
	slices.SortFunc(list, func(a, b Setup) int { return cmp.Compare(b.Length, a.Length) })
	for _, s := range list {
		slices.SortFunc(s.Letters, func(a, b LetterCount) int { return cmp.Compare(a.Letter, b.Letter) })
	}
	return list
}
