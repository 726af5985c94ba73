package web

import (
	"context"
	"errors"
	"fmt"
	"html/template"
	"net/http"
	"slices"
	"strconv"
	"strings"

	"github.com/gin-gonic/gin"

	"chamfer/core/design"
	"chamfer/core/measure"
	"chamfer/core/plan"
	"chamfer/draw"
	"chamfer/store"
)

// comparePage is a project as it stands beside versions of it that were pinned up.
type comparePage struct {
	Title, Back, Name string
	ID, Rev           int64
	Stage             string
	Sides             []sideView
	Rows              []compareRow
	Years             template.HTML
	Thin              template.HTML
	Crosses           []string
	Full, CanPin      bool
	Error             string
	Said              string
}

// sideView is one of them.
type sideView struct {
	Revision int64
	Name     string
	Now      bool
	Drawing  template.HTML
	Differs  []string
	Not      string // why it cannot be shown
	plan     *plan.Plan
	weighed  plan.Weighed
}

// compareRow is one thing that is decided by; Best are the sides that have the best of it.
type compareRow struct {
	Label, Help string
	Cells       []compareCell
}

type compareCell struct {
	Text string
	Best bool
}

// overYears is how far the lines of costs are drawn.
const overYears = 30

// compare shows what is pinned up beside the project as it stands.
func (s *Server) compare(c *gin.Context) { s.showCompare(c, http.StatusOK, "") }

func (s *Server) showCompare(c *gin.Context, status int, wrong string) {
	p, pl, ok := s.planned(c)
	if !ok {
		return
	}
	w := s.where(c, p, c.Query)
	page := comparePage{Title: "Side by side", Name: p.Design.Name, ID: p.ID, Rev: p.Head, Stage: "log",
		Back: fmt.Sprintf("/p/%d/log", p.ID), Error: wrong, CanPin: true}
	pins, err := s.store.Pins(asked(c), p.ID)
	if err != nil {
		s.trouble(c, err)
		return
	}
	page.Full = len(pins) >= store.MostPins
	now := sideView{Revision: p.Head, Name: "as it stands", Now: true, plan: pl}
	page.Sides = []sideView{now}
	for _, pin := range pins {
		if pin.Revision == p.Head {
			page.Sides[0].Name, page.CanPin = pin.Name, false
			continue
		}
		page.Sides = append(page.Sides, s.side(asked(c), p, pl, pin))
	}
	s.weigh(&page, w.Bed)
	s.show(c, status, "compare.html", page)
}

// side plans a version that was pinned up.
func (s *Server) side(ctx context.Context, p store.Project, now *plan.Plan, pin store.Pin) sideView {
	v := sideView{Revision: pin.Revision, Name: pin.Name}
	d, err := s.store.Revision(ctx, p.ID, pin.Revision)
	switch {
	case err != nil:
		v.Not = "it cannot be read"
		return v
	case d.Region != now.Design.Region:
		v.Not = "it is of another catalogue, with other money"
		return v
	}
	if kept, ok := s.plans.of(p.ID, pin.Revision, now.Shop); ok {
		v.plan = kept
	} else {
		round := s.plans.now()
		if err := planned(func() (err error) { v.plan, err = plan.MakeFor(ctx, d, now.Shop); return err }); err != nil {
			v.Not = "it cannot be built with what there is now: " + reason(err)
			return v
		}
		s.plans.put(planKey{p.ID, pin.Revision}, v.plan, weightOf(v.plan), mostPlans, func() bool {
			return round == s.plans.now()
		})
	}
	v.Differs = plan.Differences(now.Design, d, now.Shop.Precision())
	return v
}

// weigh draws the sides in one scale and fills the rows.
func (s *Server) weigh(page *comparePage, bed string) {
	large := measure.Length(1)
	for i := range page.Sides {
		if v := &page.Sides[i]; v.plan != nil {
			v.weighed = v.plan.Weigh()
			large = max(large, extent(v.plan))
		}
	}
	now := page.Sides[0].plan
	var spent []draw.Spending
	for i := range page.Sides {
		v := &page.Sides[i]
		if v.plan == nil {
			continue
		}
		wide := 250 * float64(extent(v.plan)) / float64(large)
		sheet := draw.Sheet{W: wide, H: wide * 0.72, Font: 12, Plain: true, Snug: true}
		if len(v.plan.Frames) == 1 {
			if i > 0 {
				ids := v.plan.Otherwise(v.plan.Frames[0].Bed, now)
				if n := len(ids); n > 0 && n <= len(v.plan.Frames[0].Parts)/2 { // of more the words tell: all of it is new
					sheet.New = ids
					for _, x := range v.plan.Frames[0].Parts {
						sheet.Parts = append(sheet.Parts, x.ID)
					}
				}
			}
			v.Drawing = template.HTML(draw.Bed(v.plan, "", draw.Solid, sheet))
		} else {
			sheet.New, sheet.Parts = nil, nil
			v.Drawing = template.HTML(draw.Plot(v.plan, sheet))
		}
		spent = append(spent, draw.Spending{Name: v.Name, Of: v.weighed})
	}
	page.rows(now)
	if len(spent) > 1 {
		money := now.Shop.Currency()
		page.Years = template.HTML(draw.OverYears(spent, overYears, money, draw.Sheet{W: 860, H: 330, Font: 16}))
		page.Thin = template.HTML(draw.OverYears(spent, overYears, money, draw.Sheet{W: 360, H: 300, Font: 13}))
		for _, a := range spent {
			for _, b := range spent {
				if year, ok := a.Of.Crosses(b.Of, overYears); ok && a.Of.Cost > b.Of.Cost {
					page.Crosses = append(page.Crosses, fmt.Sprintf("“%s” is dearer to build than “%s”; by the end of year %d it"+
						" has cost less, and stays so.", a.Name, b.Name, year))
				}
			}
		}
		if len(page.Crosses) == 0 {
			least := slices.MinFunc(spent, func(a, b draw.Spending) int { return int(a.Of.Cost - b.Of.Cost) })
			page.Crosses = []string{fmt.Sprintf("“%s” is the cheapest to build, and none of the others has cost less by the end"+
				" of any of %d years.", least.Name, overYears)}
		}
	}
}

// extent is how wide a project's drawing is.
func extent(p *plan.Plan) measure.Length {
	if len(p.Frames) != 1 {
		return p.Site.Plot.Width
	}
	lo, hi := p.Frames[0].Bounds()
	return hi.X - lo.X + (hi.Y-lo.Y)/2
}

// rows are what people decide by.
func (page *comparePage) rows(now *plan.Plan) {
	shop := now.Shop
	cur, sys := shop.Currency(), shop.Catalog.System
	row := func(label, help string, text func(w plan.Weighed) string, worth func(w plan.Weighed) float64) {
		r := compareRow{Label: label, Help: help}
		best, worst, any := 0.0, 0.0, false
		for _, v := range page.Sides {
			if v.plan == nil || worth == nil {
				continue
			}
			x := worth(v.weighed)
			if !any {
				best, worst, any = x, x, true
			}
			best, worst = max(best, x), min(worst, x)
		}
		for _, v := range page.Sides {
			cell := compareCell{}
			if v.plan != nil {
				cell.Text = text(v.weighed)
				cell.Best = worth != nil && best > worst && worth(v.weighed) == best
			}
			r.Cells = append(r.Cells, cell)
		}
		page.Rows = append(page.Rows, r)
	}
	row("cost now", "", func(w plan.Weighed) string {
		if w.Without > 0 {
			return cur.Format(w.Cost) + " and what has no price"
		}
		return cur.Format(w.Cost)
	}, func(w plan.Weighed) float64 { return -float64(w.Cost) })
	row("a year of its life, with interest and keep",
		fmt.Sprintf("at best and at worst: timber, its fixings and coats paid back over its life"+
			" and all else over 30 years, with %.0f %% interest, and with its keep", 100*plan.Interest),
		func(w plan.Weighed) string {
			if a, b := cur.Format(w.Yearly[0]), cur.Format(w.Yearly[1]); a != b {
				return a + " to " + b
			}
			return cur.Format(w.Yearly[0])
		}, func(w plan.Weighed) float64 { return -float64(w.Yearly[0] + w.Yearly[1]) })
	row("its keep a year", "oil brushed on anew, and an inch (25 mm) of compost where the soil sank",
		func(w plan.Weighed) string {
			return cur.Format(w.Oil + w.TopUp)
		}, func(w plan.Weighed) float64 { return -float64(w.Oil + w.TopUp) })
	row("years", "", func(w plan.Weighed) string { return fmt.Sprintf("%d to %d", w.Life[0], w.Life[1]) },
		func(w plan.Weighed) float64 { return float64(w.Life[0] + w.Life[1]) })
	row("work for one person", "", func(w plan.Weighed) string {
		low, high := w.Hours()
		if low == high {
			return fmt.Sprintf("%d h", low)
		}
		return fmt.Sprintf("%d to %d h", low, high)
	}, func(w plan.Weighed) float64 { return -(w.Minutes[0] + w.Minutes[1]) })
	row("weight without soil", "", func(w plan.Weighed) string { return sys.Mass(w.Empty) },
		func(w plan.Weighed) float64 { return -float64(w.Empty) })
	row("boards", "", func(w plan.Weighed) string { return fmt.Sprint(w.Boards) },
		func(w plan.Weighed) float64 { return -float64(w.Boards) })
	row("blocks", "", func(w plan.Weighed) string { return fmt.Sprint(w.Blocks) },
		func(w plan.Weighed) float64 { return -float64(w.Blocks) })
	row("planting", "", func(w plan.Weighed) string { return sys.Area(w.Area) },
		func(w plan.Weighed) float64 { return float64(w.Area) })
	row("soil depth", "", func(w plan.Weighed) string { return w.Depth }, nil)
	row("told by the second look", "", func(w plan.Weighed) string {
		var parts []string
		for _, x := range []struct {
			n    int
			what string
		}{{w.Stops, "that stops it"}, {w.Mends, "to mend"}, {w.Notes, "good to know"}} {
			if x.n > 0 {
				parts = append(parts, fmt.Sprintf("%d %s", x.n, x.what))
			}
		}
		return cmpOr(strings.Join(parts, ", "), "nothing")
	}, func(w plan.Weighed) float64 { return -float64(100*w.Stops + w.Mends) })
	row("left of the boards", "in pieces worth keeping", func(w plan.Weighed) string {
		return shop.Precision().Feet(w.Left)
	}, func(w plan.Weighed) float64 { return -float64(w.Left) })
	var common []string
	for _, v := range page.Sides {
		for _, t := range v.weighed.Tools {
			if v.plan != nil && !slices.Contains(common, t) && !slices.ContainsFunc(page.Sides, func(o sideView) bool {
				return o.plan != nil && !slices.Contains(o.weighed.Tools, t)
			}) {
				common = append(common, t)
			}
		}
	}
	row("to have at hand", "what the others do not need", func(w plan.Weighed) string {
		list := slices.DeleteFunc(slices.Clone(w.Tools), func(t string) bool { return slices.Contains(common, t) })
		return cmpOr(strings.Join(list, ", "), "nothing more")
	}, nil)
	page.Rows = slices.DeleteFunc(page.Rows, func(r compareRow) bool { // what none of them has
		return !slices.ContainsFunc(r.Cells, func(c compareCell) bool { return c.Text != "0" && c.Text != "" })
	})
}

// pin pins a version up, or takes one down.
func (s *Server) pin(c *gin.Context) {
	p, _, ok := s.project(c)
	if !ok {
		return
	}
	rev, err := strconv.ParseInt(c.PostForm("revision"), 10, 64)
	if err != nil {
		s.trouble(c, store.ErrNoRevision)
		return
	}
	if c.PostForm("drop") != "" {
		err = s.store.DropPin(p.ID, rev)
	} else {
		name := strings.TrimSpace(c.PostForm("name"))
		if label := []rune(strings.TrimSpace(c.PostForm("label"))); name == "" && len(label) > 0 {
			name = string(label[:min(len(label), mostPinName)])
		}
		if name == "" {
			name = fmt.Sprintf("version %d", rev)
		}
		if no := pinName(name); no != "" {
			s.showCompare(c, http.StatusUnprocessableEntity, no)
			return
		}
		err = s.store.AddPin(p.ID, rev, name)
	}
	switch {
	case isFull(err):
		s.showCompare(c, http.StatusUnprocessableEntity,
			fmt.Sprintf("%d are pinned up, which is all there is room for: take one down first.", store.MostPins))
	case errors.Is(err, store.ErrNoRevision):
		s.fault(c, http.StatusNotFound, "There is no such version.", "The Log has all of them.")
	case err != nil:
		s.trouble(c, err)
	default:
		s.did(c, "what is pinned up changed")
		c.Redirect(http.StatusSeeOther, fmt.Sprintf("/p/%d/compare", p.ID))
	}
}

// mostPinName is how long what a version is called may be.
const mostPinName = 40

func pinName(name string) string {
	if len([]rune(name)) > mostPinName || !design.Visible(name) {
		return fmt.Sprintf("Up to %d letters on one line name a version.", mostPinName)
	}
	return ""
}
