package plan

import (
	"context"
	"fmt"
	"slices"
	"strings"

	"chamfer/core/cutting"
	"chamfer/core/design"
	"chamfer/core/frame"
	"chamfer/core/money"
)

// Fit is where the pieced sides of a bed would best be joined, for the boards and
// leftovers there are, and what that would change.
type Fit struct {
	Bed, Name string
	Edit      design.Edit
	More      money.Amount // of the whole bill; negative where it is less
	Joints    int          // more, or fewer
}

// fitEffort is how much work goes into finding where to join: about a tenth
// of a second.
const fitEffort = 30_000_000

// mostFits is for how many beds joints are looked for.
const mostFits = 6

// FitJoints looks for the joints of a kind's pieced sides that leave the least to
// buy, and returns those of beds where that saves money.
func (p *Plan) FitJoints(c Cuts) []Fit {
	var list []Fit
	tried := 0
	for i := range p.Frames {
		f := &p.Frames[i]
		runs := slices.Clone(f.Pieced)
		runs = slices.DeleteFunc(
			runs,
			func(r frame.Pieced) bool { return r.Profile != c.Profile.ID || r.Species != c.Species.ID },
		)
		if len(runs) == 0 || f.Times > 1 || len(c.Sawn) > 0 {
			continue // beds that are alike are joined alike; what is begun stays as it is
		}
		if tried++; tried > mostFits {
			break
		}
		r := p.joinable(c, f, runs)
		a, err := p.Shop.Cut.Solve(r)
		if err != nil || len(a.Unmet) > 0 {
			continue
		}
		fit := Fit{
			Bed:  f.Bed,
			Name: f.Name,
			Edit: design.Edit{Bed: f.Bed, Field: runs[0].Field, Value: p.joinedAt(a, runs)},
		}
		d, err := design.Apply(p.Design, p.Shop.Catalog, fit.Edit)
		if err != nil {
			continue
		}
		then, err := reckon(context.Background(), d, p.Shop.asked(), p)
		if err != nil || then.Bill.Total >= p.Bill.Total {
			continue
		}
		fit.More = then.Bill.Total - p.Bill.Total
		fit.Joints = joints(&then.Frames[i]) - joints(f)
		list = append(list, fit)
	}
	return list
}

func joints(f *frame.Frame) int {
	n := 0
	for _, r := range f.Pieced {
		n += len(r.Joints)
	}
	return n
}

// joinable asks for a bed's pieced sides as pieces that may be joined, beside all
// else that is cut from the same boards.
func (p *Plan) joinable(c Cuts, f *frame.Frame, runs []frame.Pieced) cutting.Request {
	r := c.Request
	r.Effort, r.Like = fitEffort, nil
	r.Pieces = slices.Clone(r.Pieces)
	cost := p.jointCost()
	for n, run := range runs {
		for _, id := range run.Parts {
			part, _ := f.Part(id)
			k := slices.IndexFunc(r.Pieces, func(q cutting.Piece) bool { return q.ID == part.Letter && q.Join == nil })
			if k >= 0 {
				r.Pieces[k].Quantity--
			}
		}
		j := &cutting.Join{
			Least:  run.Least,
			Cost:   cost,
			Wall:   run.Side,
			Course: run.Course,
			Apart:  run.Apart,
			Step:   p.Shop.Precision().Step,
		}
		for _, s := range run.Clear {
			j.Clear = append(j.Clear, cutting.Span{From: s[0], To: s[1]})
		}
		r.Pieces = append(
			r.Pieces,
			cutting.Piece{ID: fmt.Sprint("side ", n), Profile: run.Profile, Length: run.Length, Quantity: 1, Join: j},
		)
	}
	r.Pieces = slices.DeleteFunc(r.Pieces, func(q cutting.Piece) bool { return q.Quantity == 0 })
	return r
}

// jointCost is what a joint's plates and screws cost, boxes shared out.
func (p *Plan) jointCost() money.Amount {
	plate, err := p.Shop.Catalog.Fitting("plate")
	if err != nil {
		return 0
	}
	cost := 2 * p.price(plate.ID, plate.Price) / money.Amount(max(1, plate.Pack))
	for _, n := range p.Fixings.Needs {
		for _, u := range n.Uses {
			if u.Kind == frame.Splice && len(n.Packs) > 0 {
				pack := n.Packs[0].Pack
				cost += p.price(pack.SKU, pack.Price) * money.Amount(u.Each) / money.Amount(pack.Count)
			}
		}
	}
	return cost
}

// joinedAt writes where an answer joins the sides.
func (p *Plan) joinedAt(a cutting.Answer, runs []frame.Pieced) string {
	var lines []string
	for n, run := range runs {
		line := fmt.Sprintf("%s %d", run.Side, run.Course)
		for _, j := range a.Joined {
			if j.Piece != fmt.Sprint("side ", n) {
				continue
			}
			for k, at := range j.Joints {
				line += []string{" at ", " and "}[min(k, 1)] + at.String()
			}
		}
		lines = append(lines, line)
	}
	return strings.Join(lines, "; ")
}
