package draw

import (
	"regexp"
	"strings"
	"testing"

	"chamfer/core/design"
	"chamfer/core/words"
)

var circled = regexp.MustCompile(`<circle class="d-screw" cx="([\d.]+)" cy="([\d.]+)"`)

// The heads that are seen, counted by hand. American defaults: from the front two boards at two corner posts and one
// mid post, three in each, 18; from the end two at two, 12. Where a post stops below the rim that is said. A plain box
// in lags shows twice three hexagons from the front, and the five screws of its tie's cleat.
func TestHeadsWhereTheyGo(t *testing.T) {
	p := bed(t, "us")
	s := Sheet{W: 1000, H: 600, Font: 17, Heads: true}
	for view, want := range map[View]int{Front: 18, End: 12} {
		svg := Bed(p, "b1", view, s)
		if got := len(circled.FindAllString(svg, -1)); got != want {
			t.Errorf("%s shows %d heads, not %d", view, got, want)
		}
	}
	for _, x := range p.Fixings.OfJoints(&p.Frames[0], p.Shop.Catalog) {
		if x.Past > 0 && !strings.Contains(strings.Join(x.Words(p.Shop.Precision()), " "), "1 in below its upper edge") {
			t.Errorf("it is not said where the post ends: %v", x.Words(p.Shop.Precision()))
		}
	}
	lags := Bed(bed(t, "us", design.Edit{Field: "system", Value: "plain-box"}), "b1", Front, s)
	round := len(circled.FindAllString(lags, -1))
	if n := strings.Count(lags, `class="d-screw"`); n-round != 6 || round != 5 {
		t.Errorf("a box in lags shows %d bolts and %d screws from the front", n-round, round)
	}
}

// Every word of the trade has its drawing, and no drawing is of a word that nobody explains.
func TestTermsAreDrawn(t *testing.T) {
	last := ""
	for _, w := range words.Terms() {
		if svg := Term(w.Word); !strings.Contains(svg, "d-now") && !strings.Contains(svg, "d-kerf") {
			t.Errorf("%s has no drawing that shows what is meant", w.Word)
		}
		if w.Word <= last || len(w.Means) < 20 {
			t.Errorf("%s comes after %s: %q", w.Word, last, w.Means)
		}
		last = w.Word
	}
	if len(terms) != len(words.Terms()) {
		t.Errorf("%d drawings of %d words", len(terms), len(words.Terms()))
	}
}
