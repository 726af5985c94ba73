package frame

import (
	"cmp"
	"slices"
	"strconv"

	"chamfer/core/measure"
)

// alike is what makes two pieces the same to someone cutting them.
type alike struct {
	profile, species string
	length, width    measure.Length
	extra            measure.Length
	ends             [2]End
	notches          string
	bevels           [2]float64 // the flatter first: a board turned end for end is the same
	skewed           bool
}

// CutLength is what is cut from the board.
func (p Part) CutLength() measure.Length { return p.Length + p.Extra }

func (p Part) alike() alike {
	cut := p.Bevels()
	cut = [2]float64{min(cut[0], cut[1]), max(cut[0], cut[1])}
	return alike{p.Profile, p.Species, p.Length, p.Width, p.Extra, p.Ends, p.notched(), cut, p.Skewed}
}

// Letter gives every part its shop letter: pieces that are cut alike share
// one. Letters go to the longest pieces of the widest boards first, A to Z
// without I and O (which read as 1 and 0), then AA, AB and on. Where there are
// several beds, a bare letter is a piece that more than one of them needs, and
// what only one needs carries that bed's number, counted from 1: 2C. Each bed's
// own letters begin where those of all end, so that no bed has both C and 2C.
func Letter(frames []Frame) {
	var kinds []alike
	of := map[alike]int{} // the one bed that has it, 0 for several
	for n, f := range frames {
		for _, p := range f.Parts {
			k := p.alike()
			if at, ok := of[k]; !ok {
				of[k] = n + 1
				kinds = append(kinds, k)
			} else if at != n+1 {
				of[k] = 0
			}
		}
	}
	slices.SortStableFunc(kinds, func(a, b alike) int {
		return cmp.Or(-cmp.Compare(a.length, b.length), -cmp.Compare(a.width, b.width),
			cmp.Compare(a.profile, b.profile), cmp.Compare(a.species, b.species))
	})
	marks := map[alike]string{}
	shared, own := 0, make([]int, len(frames)+1)
	for _, k := range kinds {
		if of[k] == 0 || len(frames) == 1 {
			marks[k] = letter(shared)
			shared++
		}
	}
	for _, k := range kinds {
		if marks[k] == "" {
			marks[k] = strconv.Itoa(of[k]) + letter(shared+own[of[k]])
			own[of[k]]++
		}
	}
	for _, f := range frames {
		for i := range f.Parts {
			f.Parts[i].Letter = marks[f.Parts[i].alike()]
		}
	}
}

func letter(n int) string {
	const alphabet = "ABCDEFGHJKLMNPQRSTUVWXYZ"
	s := ""
	for {
		s = string(alphabet[n%len(alphabet)]) + s
		n = n/len(alphabet) - 1
		if n < 0 {
			return s
		}
	}
}
