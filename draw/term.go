package draw

import (
	"fmt"
	"strings"
)

// stroke is a shape of a small drawing: its class and its path, on a sheet of 120 by 72.
type stroke struct{ class, path string }

func slab(x, y, w, h float64) string { return fmt.Sprintf("M%g %gh%gv%gh%gz", x, y, w, h, -w) }

// terms are the drawings of the trade's words; what is meant is outlined in the mark colour, or is the mark.
var terms = map[string][]stroke{
	"apron": {{"d-timber-side", slab(22, 24, 9, 44) + slab(89, 24, 9, 44)}, {"d-timber-face", slab(14, 6, 92, 22)},
		{"d-timber-face", slab(31, 31, 58, 11)}, {"d-now", slab(31, 31, 58, 11)}, {"d-ground", "M4 68h112"}},
	"batten": {{"d-cloth", "M12 14v46"}, {"d-timber-face", slab(18, 10, 84, 54)}, {"d-timber-top", slab(10, 12, 100, 9)},
		{"d-now", slab(10, 12, 100, 9)}},
	"butt": {{"d-timber-face", slab(10, 24, 70, 22)}, {"d-timber-face", slab(80, 6, 22, 60)}, {"d-now", "M80 22v26"}},
	"cap": {{"d-soil", slab(24, 26, 72, 40)}, {"d-timber-side", slab(14, 14, 10, 52) + slab(96, 14, 10, 52)},
		{"d-timber-end", slab(6, 6, 26, 8) + slab(88, 6, 26, 8)}, {"d-now", slab(6, 6, 26, 8) + slab(88, 6, 26, 8)}},
	"cleat": {{"d-timber-face", slab(8, 8, 104, 17) + slab(8, 26, 104, 17) + slab(8, 44, 104, 17)},
		{"d-timber-side", slab(50, 6, 14, 58)}, {"d-now", slab(50, 6, 14, 58)},
		{"d-screw", slab(55, 14, 4, 4) + slab(55, 32, 4, 4) + slab(55, 50, 4, 4)}},
	"course": {{"d-timber-face", slab(8, 8, 104, 17) + slab(8, 26, 104, 17) + slab(8, 44, 104, 17)},
		{"d-now", slab(8, 44, 104, 17)}, {"d-ground", "M2 64h116"}},
	"drainage stone": {{"d-soil", slab(56, 14, 60, 50)}, {"d-stone-face", slab(14, 8, 24, 18) + slab(14, 27, 24, 18) +
		slab(14, 46, 24, 18)}, {"d-pebble", pebbles}, {"d-now", slab(39, 14, 16, 50)}, {"d-ground", "M2 64h116"}},
	"end grain": {{"d-timber-face", "M34 12l70-6v48l-70 10z"}, {"d-timber-end", slab(12, 14, 22, 50)},
		{"d-grain", "M12 30q11-14 22 0M12 42q11-18 22 0M12 54q11-20 22 0"}, {"d-now", slab(12, 14, 22, 50)}},
	"flashing": {{"d-membrane", "M16 62q20-52 56-30t40-22"}, {"d-membrane", "M28 66q18-44 48-24t38-20"},
		{"d-now", "M16 62q20-52 56-30t40-22"}},
	"freeboard": {{"d-soil", slab(24, 24, 72, 42)}, {"d-timber-side", slab(14, 8, 10, 58) + slab(96, 8, 10, 58)},
		{"d-now", "M60 8v16M56 12l4-4 4 4M56 20l4 4 4-4"}, {"d-ext", "M26 8h68"}},
	"half bond": {{"d-stone-face", slab(8, 44, 34, 18) + slab(43, 44, 34, 18) + slab(78, 44, 34, 18) + slab(25, 25, 34,
		18) + slab(60, 25, 34, 18) + slab(8, 6, 34, 18) + slab(43, 6, 34, 18) + slab(78, 6, 34, 18)},
		{"d-now", slab(25, 25, 34, 18)}, {"d-tick", "M42.5 44v18"}},
	"kerf": {{"d-timber-face", slab(8, 22, 50, 26) + slab(64, 22, 48, 26)}, {"d-kerf", slab(58, 22, 6, 26)},
		{"d-crumb", "M56 54l2 2M61 55l1 4M66 54l-1 3"}},
	"lag": {{"d-timber-face", slab(56, 8, 18, 56)}, {"d-timber-side", slab(74, 20, 40, 32)},
		{"d-screw", slab(46, 28, 8, 16) + slab(54, 26, 2, 20) + "M56 33h42l8 3-8 3h-42z"}, {"d-now", slab(46, 28, 8, 16)}},
	"ledger": {{"d-timber-side", slab(20, 6, 10, 62)}, {"d-timber-end", slab(31, 40, 14, 16)},
		{"d-now", slab(31, 40, 14, 16)}, {"d-timber-face", slab(31, 32, 82, 7)}, {"d-soil", slab(31, 12, 82, 19)}},
	"lug": {{"d-stone-face", slab(24, 38, 60, 26)}, {"d-stone-face", "M32 12h60v34h-8v-8H32z"},
		{"d-now", slab(84, 38, 8, 8)}, {"d-ground", "M4 64h112"}},
	"mid post": {{"d-soil", slab(12, 14, 96, 44)}, {"d-timber-top", slab(8, 8, 104, 7) + slab(8, 57, 104, 7)},
		{"d-timber-end", slab(54, 46, 11, 11)}, {"d-now", slab(54, 46, 11, 11)}},
	"mitre":  {{"d-timber-face", "M10 52h64l22 16H10zM74 52V8h22v60z"}, {"d-now", "M74 52l22 16"}},
	"offcut": {{"d-timber-face", slab(6, 26, 74, 20)}, {"d-left", slab(84, 26, 30, 20)}, {"d-now", slab(84, 26, 30, 20)}},
	"pilot hole": {{"d-timber-face", slab(10, 16, 100, 40)}, {"d-hole", "M70 16v26"}, {"d-now", "M70 16v26"},
		{"d-screw", "M40 6h12l-3 4v24l-3 8-3-8V10z"}},
	"pocket hole": {{"d-timber-face", slab(8, 28, 62, 22)}, {"d-timber-side", slab(70, 8, 20, 58)},
		{"d-screw", "M34 32l4-5 44 13 4 4-7-1z"}, {"d-now", "M30 28h14l-8 6z"}},
	"rip": {{"d-timber-face", slab(8, 12, 104, 26) + slab(8, 42, 104, 16)}, {"d-kerf", slab(8, 38, 104, 3)},
		{"d-now", "M8 39.5h96M98 35l6 4.5-6 4.5"}},
	"screed": {{"d-sand", slab(14, 40, 92, 22)}, {"d-pipe", "M14 40h92"}, {"d-timber-face", slab(46, 12, 16, 30)},
		{"d-now", "M66 26h22M82 21l6 5-6 5"}, {"d-ground", "M4 64h112"}},
	"stake": {{"d-timber-face", slab(8, 14, 104, 17) + slab(8, 32, 104, 17)},
		{"d-timber-side", "M52 10h13v50l-6 10-7-10z"},
		{"d-now", "M52 10h13v50l-6 10-7-10z"}, {"d-ground", "M2 50h116"}},
	"stretcher": {{"d-stone-face", slab(6, 34, 46, 20)}, {"d-stone-side", slab(53, 34, 22, 20)},
		{"d-stone-face", slab(76, 34, 40, 20)}, {"d-now", slab(6, 34, 46, 20)}, {"d-dim", "M6 62h46M6 59v6M52 59v6"}},
}

const pebbles = "M42 18a3 3 0 1 0 6 0a3 3 0 1 0-6 0M46 26a3 3 0 1 0 6 0a3 3 0 1 0-6 0" +
	"M41 34a3 3 0 1 0 6 0a3 3 0 1 0-6 0" +
	"M46 42a3 3 0 1 0 6 0a3 3 0 1 0-6 0M41 50a3 3 0 1 0 6 0a3 3 0 1 0-6 0M47 58a3 3 0 1 0 6 0a3 3 0 1 0-6 0"

// Term draws a word of the trade, small; "" for one that has no drawing.
func Term(word string) string {
	shapes, ok := terms[word]
	if !ok {
		return ""
	}
	var b strings.Builder
	fmt.Fprintf(&b, `<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 120 72" width="120" height="72" role="img" `+
		`aria-label="%s, drawn">`, esc(word))
	for _, s := range shapes {
		fmt.Fprintf(&b, `<path class="%s" d="%s"/>`, s.class, s.path)
	}
	b.WriteString(`</svg>`)
	return b.String()
}
