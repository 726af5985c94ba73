package record

import (
	"fmt"
	"strings"

	"chamfer/core/measure"
	"chamfer/core/money"
)

// Good is what became of one thing: how many packs were taken, for how much each, and how much of it was left in the
// end. Its numbers are those of the bill and of the balance.
type Good struct {
	Item   string        `json:"item"` // the shop's number
	Name   string        `json:"name"`
	Unit   string        `json:"unit,omitempty"`   // "board", "box of 100"
	Packs  int           `json:"packs,omitempty"`  // taken
	Lacked bool          `json:"lacked,omitempty"` // the shop had none
	Paid   *money.Amount `json:"paid,omitempty"`   // for each
	Left   *int64        `json:"left,omitempty"`   // of it: pieces, nanometres or cubic millimetres
	Need   int64         `json:"need,omitempty"`   // that was planned to be used, when Left was written down
	Had    int64         `json:"had,omitempty"`    // then, bought and owned
}

// Empty reports whether it says nothing.
func (g Good) Empty() bool { return g.Packs == 0 && !g.Lacked && g.Paid == nil && g.Left == nil }

// Used is what was really used of it, where what was left is known.
func (g Good) Used() (n int64, known bool) {
	if g.Left == nil {
		return 0, false
	}
	return max(0, g.Had-*g.Left), true
}

// Most of a thing that anybody takes, and what is asked of one at the most.
const (
	MostPacks = 100_000
	mostLeft  = 1_000_000
)

// ReadLeft reads how much of something is left: pieces as a whole number, what runs as a length, what fills as packs of
// it ("half", "1/2", "0.5") or a length of nothing; pack is what one holds.
func ReadLeft(text, unit string, pack int64, sys measure.System) (int64, error) {
	text = strings.ToLower(strings.TrimSpace(text))
	switch text {
	case "none", "nothing", "0":
		return 0, nil
	}
	if unit == "length" {
		l, err := measure.Parse(text, sys)
		if err != nil {
			return 0, err
		}
		return int64(l), nil
	}
	n, err := number(text)
	if err != nil || !(n >= 0 && n <= mostLeft) {
		if unit == "pieces" {
			return 0, fmt.Errorf("%q is no number of pieces: 0, 13", text)
		}
		return 0, fmt.Errorf("%q is no number of packs: 0, 1/2, 2.5", text)
	}
	if unit == "pieces" {
		if n != float64(int64(n)) {
			return 0, fmt.Errorf("%q is no whole number of pieces", text)
		}
		return int64(n), nil
	}
	return int64(n*float64(pack) + 0.5), nil
}

// number reads 2, 2.5, 2,5, 1/2, 2 1/2 and half.
func number(text string) (float64, error) {
	if text == "half" {
		return 0.5, nil
	}
	whole, rest, two := strings.Cut(text, " ")
	if !two && strings.Contains(text, "/") {
		whole, rest = "0", text
	}
	var n float64
	if _, err := fmt.Sscanf(strings.ReplaceAll(whole, ",", ".")+"\n", "%g\n", &n); err != nil {
		return 0, err
	}
	if rest != "" {
		var over, under float64
		if _, err := fmt.Sscanf(rest+"\n", "%g/%g\n", &over, &under); err != nil || under == 0 || over < 0 || under < 0 {
			return 0, fmt.Errorf("%q is no fraction", rest)
		}
		n += over / under
	}
	return n, nil
}
