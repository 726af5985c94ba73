package plan

import (
	"fmt"
	"math"
	"reflect"
	"slices"
	"strings"

	"chamfer/core/catalog"
	"chamfer/core/cost"
	"chamfer/core/design"
	"chamfer/core/frame"
	"chamfer/core/measure"
	"chamfer/core/money"
	"chamfer/core/review"
	"chamfer/core/strength"
)

// What costs over the years rest on (common practice): what the money would earn elsewhere, how far a bed's soil sinks
// in a year and is topped up.
const (
	Interest = 0.03
	sinks    = 25 * measure.Millimetre
)

// Weighed is a plan as it is weighed against others: what people decide by.
type Weighed struct {
	Cost    money.Amount
	Without int             // things that have no price here: the cost is of the rest
	Yearly  [2]money.Amount // for one year of its life, at best and at worst, with its keep
	Oil     money.Amount    // a year, of what is brushed on anew
	TopUp   money.Amount    // a year, of compost where the soil sank
	Wood    money.Amount    // what is bought again when the timber is done: itself, its fixings and its coats
	Life    [2]int          // years, at least and at most
	Minutes [2]float64      // of work for one person, at least and at most
	Empty   measure.Mass    // without soil
	Boards  int
	Blocks  int
	Area    measure.Area
	Depth   string
	Stops   int
	Mends   int
	Notes   int
	Left    measure.Length // of boards, worth keeping
	Tools   []string       // that are at hand for the work
}

// Weigh reckons what a plan is weighed by.
func (p *Plan) Weigh() Weighed {
	w := Weighed{Cost: p.Bill.Total, Without: len(p.Bill.Without), Boards: p.Boards(), Blocks: p.Units(), Area: p.Area(),
		Depth: p.Figure("soil-depth").Text}
	w.Life[0], w.Life[1] = p.Life()
	for _, s := range p.Steps {
		l, h := s.Minutes()
		w.Minutes[0], w.Minutes[1] = w.Minutes[0]+l, w.Minutes[1]+h
		for _, t := range s.Have {
			counted := strings.Contains(t, " of ") && t[0] >= '0' && t[0] <= '9'           // that is bought
			if !counted && !strings.HasPrefix(t, "the ") && !slices.Contains(w.Tools, t) { // those are papers of this job
				w.Tools = append(w.Tools, t)
			}
		}
	}
	slices.Sort(w.Tools)
	for _, x := range strength.Weighed(p.Frames, p.Shop.Catalog) {
		w.Empty = measure.Mass(x.Of.Value()) // the last is all of them
	}
	for _, f := range p.Findings {
		switch {
		case f.Kept:
		case f.Severity == review.Stop:
			w.Stops++
		case f.Severity == review.Note:
			w.Notes++
		default:
			w.Mends++
		}
	}
	left, _ := p.Leaves()
	for _, l := range left {
		w.Left += l.Length * measure.Length(l.Quantity)
	}
	for _, c := range p.Finish.Cans {
		for _, t := range c.Tins {
			if c.About.Again > 0 {
				w.Oil += p.price(t.ID, t.Price).Times(t.Count).Per(float64(c.About.Again) / 12)
			}
		}
	}
	w.TopUp = p.topUp()
	for _, l := range p.Bill.Lines {
		if !l.Owned && (l.Group == cost.Timber || l.Group == cost.Fixings || l.Group == cost.Finish) {
			w.Wood += l.Amount
		}
	}
	w.Wood += w.Wood.Rate(p.Bill.TaxRate)
	w.Oil, w.TopUp = w.Oil+w.Oil.Rate(p.Bill.TaxRate), w.TopUp+w.TopUp.Rate(p.Bill.TaxRate)
	rest := cost.Recovery(w.Cost-w.Wood, Interest, unitsLast[0])
	for i, years := range []int{w.Life[1], w.Life[0]} { // at best it lasts longest
		w.Yearly[i] = cost.Recovery(w.Wood, Interest, years) + rest + w.Oil + w.TopUp
	}
	return w
}

// topUp is what a year's compost costs where the soil sank, by the bag.
func (p *Plan) topUp() money.Amount {
	area := measure.Area(0)
	for i, f := range p.Frames {
		if len(f.Cavities) > 0 {
			area += p.Frames[i].PlantingArea() * measure.Area(f.Times)
		}
	}
	need := area.By(sinks)
	for _, f := range p.Shop.Catalog.Fills {
		if f.Of == "compost" && f.Kind == catalog.Bag && f.Pack > 0 && !f.Absent {
			return p.price(f.ID, f.Price).Times(int((need + f.Pack - 1) / f.Pack))
		}
	}
	return 0
}

// Hours is how long the work takes one person, at least and at most.
func (w Weighed) Hours() (low, high int) {
	return max(1, int(math.Round(w.Minutes[0]/60))), max(1, int(math.Round(w.Minutes[1]/60)))
}

// Spent is what it has cost by the end of a year, its timber bought again whenever a mean life of it is over, without
// interest: year 0 is what it costs to build.
func (w Weighed) Spent(year int) money.Amount {
	all := w.Cost + (w.Oil + w.TopUp).Times(year)
	if mean := (w.Life[0] + w.Life[1]) / 2; mean > 0 && year > 0 {
		all += w.Wood.Times((year - 1) / mean)
	}
	return all
}

// Crosses is the first year by whose end the one that was dearer to build has cost less, and stays so to the last year
// that is looked at; false where it never does.
func (w Weighed) Crosses(cheaper Weighed, years int) (year int, ok bool) {
	for y := years; y >= 0; y-- {
		if w.Spent(y) >= cheaper.Spent(y) {
			return y + 1, y < years
		}
	}
	return 0, true
}

// Differences say in words what one design decides otherwise than another: beds that are new or gone, and decisions of
// those in both.
func Differences(from, to design.Design, pr measure.Precision) (list []string) {
	named := func(b design.Bed) string {
		if len(to.Beds) > 1 || len(from.Beds) > 1 {
			return b.Name + ": "
		}
		return ""
	}
	if from.Region != to.Region {
		list = append(list, "another catalogue")
	}
	for _, b := range to.Beds {
		was, err := from.Bed(b.ID)
		if err != nil {
			list = append(list, b.Name+" is new")
			continue
		}
		if was.System != b.System {
			a, _ := design.SystemNamed(was.System)
			s, _ := design.SystemNamed(b.System)
			list = append(list, fmt.Sprintf("%s%s instead of %s", named(b), lower(s.Title), lower(a.Title)))
		}
		if was.Times() != b.Times() {
			list = append(list, fmt.Sprintf("%s%d instead of %d of it", named(b), b.Times(), was.Times()))
		}
		for _, f := range design.FieldsOf(b) {
			if f.Key == "system" || f.Key == "name" || f.Key == "count" || !f.Matters(b) {
				continue
			}
			old, ok := design.FieldOf(*was, f.Key)
			if !ok {
				continue
			}
			if a, c := old.Text(*was, pr), f.Text(b, pr); a != c {
				list = append(list, fmt.Sprintf("%s%s %s instead of %s", named(b), lower(f.Label), cmpText(c), cmpText(a)))
			}
		}
	}
	for _, b := range from.Beds {
		if _, err := to.Bed(b.ID); err != nil {
			list = append(list, b.Name+" is gone")
		}
	}
	return list
}

// cmpText is a decision's value as it stands in a sentence.
func cmpText(s string) string {
	if s == "" {
		return "nothing"
	}
	return s
}

// Otherwise are the parts and blocks of a plan's bed that another plan has not, or has in another place or size; none
// where all of them are.
func (p *Plan) Otherwise(bed string, than *Plan) (ids []string) {
	find := func(p *Plan) *frame.Frame {
		i := slices.IndexFunc(p.Frames, func(f frame.Frame) bool { return f.Bed == bed })
		if i < 0 {
			return &frame.Frame{}
		}
		return &p.Frames[i]
	}
	f, was := find(p), find(than)
	same := 0
	for _, x := range f.Parts {
		if o, ok := was.Part(x.ID); ok && o.Profile == x.Profile && o.Species == x.Species && o.Length == x.Length &&
			reflect.DeepEqual(o.Body, x.Body) {
			same++
			continue
		}
		ids = append(ids, x.ID)
	}
	if same == 0 {
		return nil
	}
	return ids
}
