package web

import (
	"context"
	"errors"
	"fmt"
	"hash/fnv"
	"html/template"
	"net/http"
	"net/url"
	"strconv"
	"strings"
	"time"

	"github.com/gin-gonic/gin"

	"chamfer/core/design"
	"chamfer/core/measure"
	"chamfer/core/money"
	"chamfer/core/plan"
	"chamfer/core/review"
	"chamfer/draw"
)

// seekPage is where another bed is sought: one that is better for something, that a sum pays for, or that what is owned
// builds.
type seekPage struct {
	Title, Back, Name string
	ID, Rev           int64
	Bed, BedName      string
	Beds              []viewLink
	Aims              []viewLink
	Mosts             []mostView
	Sum, Error        string
	For               string // "better", "budget" or "pile"; "" before anything was asked
	Heading, Claim    string
	Found             []foundView
	Next              []foundView
	Free              []foundView // nothing is bought for them
	Front             []foundView
	Wide, Thin        template.HTML // of the front
	Owned             bool          // there is something in the pile
	Map               bool          // sizes are shown
	Unit              string
	Busy              string // how far the search is that goes on
	Most, Aim         string // what is sought, as the form that stops it says
	Long, Broad, Deep string // of a place, or of a thing that a bed is built round
}

type mostView struct {
	Value, Label string
	Chosen       bool
}

// foundView is one bed that was found, with the edits that take it.
type foundView struct {
	Drawing          template.HTML
	Title, Of, Words string
	Facts            []string
	Sets             []string
	Label            string
}

// mostFound is how many are shown, mostFront how many of a front.
const (
	mostFound = 9
	mostFront = 24
)

// seek shows what was found, where something was asked for.
func (s *Server) seek(c *gin.Context) {
	p, pl, ok := s.planned(c)
	if !ok {
		return
	}
	w := s.where(c, p, c.Query)
	bed, err := p.Design.Bed(w.Bed)
	if err != nil {
		s.trouble(c, err)
		return
	}
	page := seekPage{Title: "Another bed", Name: p.Design.Name, ID: p.ID, Rev: p.Head, Bed: bed.ID, BedName: bed.Name,
		Back: fmt.Sprintf("/p/%d/bed?bed=%s", p.ID, bed.ID), For: c.Query("for"), Sum: strings.TrimSpace(c.Query("sum"))}
	at := func(bed string, more string) string { return fmt.Sprintf("/p/%d/seek?bed=%s%s", p.ID, bed, more) }
	if len(p.Design.Beds) > 1 {
		for _, b := range p.Design.Beds {
			page.Beds = append(page.Beds, viewLink{b.Name, at(b.ID, ""), b.ID == bed.ID})
		}
	}
	for _, a := range plan.Aims {
		page.Aims = append(page.Aims, viewLink{a.Label, at(bed.ID, "&for=better&aim="+a.Value), c.Query("aim") == a.Value})
	}
	for _, m := range plan.Mosts {
		page.Mosts = append(page.Mosts, mostView{m.Value, m.Label, c.Query("most") == m.Value})
	}
	for _, n := range p.Design.Have {
		page.Owned = page.Owned || n > 0
	}
	page.Owned = page.Owned || len(pl.Shop.Shed) > 0
	page.Aim, page.Most = c.Query("aim"), c.Query("most")
	page.Long, page.Broad, page.Deep = c.Query("long"), c.Query("wide"), c.Query("deep")
	status := http.StatusOK
	if err := planned(func() error { return s.sought(c, &page, pl, *bed) }); err != nil {
		status, page.Error = http.StatusUnprocessableEntity, sentence(reason(err))
	}
	if page.Busy != "" {
		c.Header("Refresh", "1")
	}
	s.show(c, status, "seek.html", page)
}

// stopSeek stops a search that goes on; what it found is kept.
func (s *Server) stopSeek(c *gin.Context) {
	p, pl, ok := s.planned(c)
	if !ok {
		return
	}
	query := url.Values{}
	for _, key := range []string{"bed", "for", "aim", "most", "sum", "long", "wide", "deep"} {
		query.Set(key, c.PostForm(key))
	}
	bed, err := p.Design.Bed(query.Get("bed"))
	if err != nil {
		s.trouble(c, err)
		return
	}
	s.seeks.mu.Lock()
	on := s.seeks.by[seekKey(p.ID, p.Head, pl, bed.ID, query.Get)]
	s.seeks.mu.Unlock()
	if on != nil {
		on.end()
		on.within(c.Request.Context(), 5*time.Second)
	}
	c.Redirect(http.StatusSeeOther, fmt.Sprintf("/p/%d/seek?%s", p.ID, query.Encode()))
}

// seekKey names what is asked, of a project as it stands, of a workshop as it is.
func seekKey(id, head int64, pl *plan.Plan, bed string, query func(string) string) string {
	h := fnv.New64a()
	fmt.Fprint(h, pl.Shop.Habits, pl.Shop.Shed)
	return fmt.Sprintf("%d %d %x %s %q %q %q %q %q %q %q", id, head, h.Sum64(), bed, query("for"), query("aim"),
		query("most"), strings.TrimSpace(query("sum")), query("long"), query("wide"), query("deep"))
}

// sought seeks what the page was asked for.
func (s *Server) sought(c *gin.Context, page *seekPage, pl *plan.Plan, bed design.Bed) error {
	cur := pl.Shop.Currency()
	// find is the search's answer; false while it goes on.
	find := func(do func(ctx context.Context) (any, error)) (any, bool, error) {
		key := seekKey(page.ID, page.Rev, pl, bed.ID, c.Query)
		on := s.seeks.of(key, do)
		if on == nil {
			return nil, false, errors.New("the program is being ended: ask again when it is back")
		}
		if !on.within(c.Request.Context(), seekShown) {
			page.Busy = on.words()
			return nil, false, nil
		}
		if errors.Is(on.err, context.Canceled) || errors.Is(on.err, context.DeadlineExceeded) {
			s.seeks.drop(key) // it came to nothing, and may be asked anew
			return nil, false, errors.New("it was stopped before anything was found: ask again to begin anew")
		}
		return on.found, on.err == nil, on.err
	}
	switch page.For {
	case "better":
		aim := plan.Aim(c.Query("aim"))
		if !isOne(plan.Aims, string(aim)) {
			return fmt.Errorf("%q is nothing it could be better for; cheaper works", aim)
		}
		page.Heading = "What would make " + bed.Name + " " + labelOf(plan.Aims, string(aim))
		found, done, err := find(func(ctx context.Context) (any, error) { return pl.Better(ctx, bed.ID, aim) })
		if !done {
			return err
		}
		out := found.(plan.Bettered)
		page.Heading, page.Claim = "What would make "+bed.Name+" "+labelOf(plan.Aims, string(aim)), out.Claim()
		for _, g := range out.List {
			page.Found = append(page.Found, gained(pl, out.Was, g))
		}
	case "budget":
		sum, err := money.Parse(strings.TrimSpace(strings.ReplaceAll(page.Sum, cur.Symbol, "")))
		if err != nil || sum <= 0 {
			return fmt.Errorf("%q is no sum of money; 250 works", page.Sum)
		}
		most := plan.Most(c.Query("most"))
		if !isOne(plan.Mosts, string(most)) {
			most = plan.MostArea
		}
		words := labelOf(plan.Mosts, string(most))
		page.Heading = strings.ToUpper(words[:1]) + words[1:] + " for " + cur.Format(sum)
		answer, done, err := find(func(ctx context.Context) (any, error) { return pl.Within(ctx, bed.ID, sum, most) })
		if !done {
			return err
		}
		out := answer.(plan.Prospects)
		page.Heading, page.Claim = strings.ToUpper(words[:1])+words[1:]+" for "+cur.Format(sum), out.Claim()
		page.prospects(pl, out)
		if len(out.List) == 0 && len(out.Front) > 0 {
			page.Claim += fmt.Sprintf(" None costs so little: the cheapest that was tried costs %s.",
				cur.Format(out.Front[0].Total))
		}
		if most == plan.MostArea {
			front := out.Front
			for len(front) > mostFront { // every other one, the first and the last among them
				var half []plan.Prospect
				for i, f := range front {
					if i%2 == 0 || i == len(front)-1 {
						half = append(half, f)
					}
				}
				front = half
			}
			for _, f := range front {
				page.Front = append(page.Front, found(pl, f, false))
			}
			page.Wide = template.HTML(draw.Frontier(front, cur, "#front-%d", draw.Sheet{W: 1100, H: 340, Font: 16}))
			page.Thin = template.HTML(draw.Frontier(front, cur, "#front-%d", draw.Sheet{W: 360, H: 300, Font: 13}))
		}
	case "map":
		page.Heading = "What every size costs"
		answer, done, err := find(func(ctx context.Context) (any, error) { return pl.SizeMap(ctx, bed.ID) })
		if err != nil {
			return err
		}
		m, _ := answer.(plan.SizeMap)
		if !done { // what is known is shown at once
			if m, err = pl.FirstMap(c.Request.Context(), bed.ID); err != nil {
				return err
			}
		}
		page.Heading, page.Claim = "What every size costs", m.Claim()
		held := [2]int{-1, -1}
		if column, row, ok := strings.Cut(c.Query("at"), "."); ok {
			i, err := strconv.Atoi(column)
			j, err2 := strconv.Atoi(row)
			if m.Every > 0 {
				i, j = i/m.Every, j/m.Every
			}
			if err == nil && err2 == nil && i >= 0 && j >= 0 && i < len(m.Lengths) && j < len(m.Widths) && m.At(i, j).Built {
				held = [2]int{i * m.Every, j * m.Every}
				page.Found = append(page.Found, sized(pl, bed, m.At(i, j)))
			}
		}
		widest, _ := review.Reach(bed, bed.Access, pl.Shop.Habits, pl.Shop.Catalog)
		for _, one := range m.Best(mostFound, widest) {
			page.Next = append(page.Next, sized(pl, bed, one))
		}
		page.Map, page.Unit = true, pl.AreaUnit()
		link := fmt.Sprintf("/p/%d/seek?bed=%s&for=map&at=%%d.%%d#found", page.ID, bed.ID)
		pr := pl.Shop.Precision()
		now := [2]float64{bed.Length.Metres(), bed.Width.Metres()}
		page.Wide = template.HTML(draw.SizeMap(m, link, held, now, widest, pr, cur, draw.Sheet{W: 1100, H: 520, Font: 16}))
		page.Thin = template.HTML(draw.SizeMap(m, link, held, now, widest, pr, cur, draw.Sheet{W: 360, H: 360, Font: 12}))
	case "place", "around":
		var sizes [3]measure.Length
		for i, text := range []string{page.Long, page.Broad, page.Deep} {
			if strings.TrimSpace(text) == "" && i == 2 && page.For == "place" {
				continue
			}
			var err error
			if sizes[i], err = measure.Parse(text, pl.Shop.Catalog.System); err != nil {
				return err
			}
		}
		pr := pl.Shop.Precision()
		page.Heading = "To fit " + pr.Feet(sizes[0]) + " by " + pr.Feet(sizes[1])
		seek := func(ctx context.Context) (any, error) { return pl.InPlace(ctx, bed.ID, sizes[0], sizes[1]) }
		if page.For == "around" {
			page.Heading = "Round " + pr.Feet(sizes[0]) + " by " + pr.Feet(sizes[1]) + ", " + pr.Feet(sizes[2]) + " deep"
			seek = func(ctx context.Context) (any, error) { return pl.Around(ctx, bed.ID, sizes[0], sizes[1], sizes[2]) }
		}
		answer, done, err := find(seek)
		if !done {
			return err
		}
		out := answer.(plan.Prospects)
		page.Claim = out.Claim()
		page.prospects(pl, out)
	case "pile":
		page.Heading = "Of what is there"
		answer, done, err := find(func(ctx context.Context) (any, error) { return pl.OfPile(ctx, bed.ID) })
		if !done {
			return err
		}
		out := answer.(plan.Prospects)
		page.Heading, page.Claim = "Of what is there", out.Claim()
		for _, f := range out.Free[:min(3, len(out.Free))] {
			page.Free = append(page.Free, found(pl, f, true))
		}
		page.prospects(pl, out)
		for _, f := range out.Next[:min(3, len(out.Next))] {
			page.Next = append(page.Next, found(pl, f, true))
		}
	}
	return nil
}

// prospects are what was found, drawn.
func (page *seekPage) prospects(pl *plan.Plan, out plan.Prospects) {
	for _, f := range out.List[:min(mostFound, len(out.List))] {
		page.Found = append(page.Found, found(pl, f, true))
	}
}

// found tells of one bed that could be built.
func found(pl *plan.Plan, f plan.Prospect, drawn bool) foundView {
	pr, cur := pl.Shop.Precision(), pl.Shop.Currency()
	v := foundView{Title: f.System.Title, Of: f.Of, Facts: []string{
		fmt.Sprintf("%s by %s, %s of soil", pr.Feet(f.Length), pr.Feet(f.Width), pr.Feet(f.Soil)),
		pl.Shop.Catalog.System.Area(f.Area) + " of planting", cur.Format(f.Total) + " in all",
		fmt.Sprintf("%d to %d years", f.Years[0], f.Years[1])}, Sets: setsOf(f.Edits),
		Label: "found: " + strings.ToLower(f.System.Title) + " of " + cur.Format(f.Total)}
	if f.Bought > 0 {
		v.Facts = append(v.Facts, cur.Format(f.Bought)+" of it for what its walls lack")
	}
	if n := len(f.Buys); n > 0 {
		v.Facts = append(v.Facts, "to buy: "+strings.Join(f.Buys[:min(6, n)], ", ")+
			map[bool]string{true: fmt.Sprintf(" and %d things more", n-6)}[n > 6])
	}
	if n := len(f.Left); n > 0 {
		v.Facts = append(v.Facts, "left: "+strings.Join(f.Left[:min(4, n)], ", ")+
			map[bool]string{true: fmt.Sprintf(" and %d things more", n-4)}[n > 4])
	}
	if drawn {
		v.Drawing = drawnAs(pl, f.Edits)
	}
	return v
}

// sized tells of one size of a map.
func sized(pl *plan.Plan, bed design.Bed, s plan.Sized) foundView {
	pr, cur := pl.Shop.Precision(), pl.Shop.Currency()
	edits := plan.SizeEdits(bed, s)
	v := foundView{Title: pr.Feet(s.Length) + " by " + pr.Feet(s.Width), Facts: []string{cur.Format(s.Total) + " in all",
		cur.Format(s.PerArea) + " for a " + pl.AreaUnit()}, Sets: setsOf(edits), Drawing: drawnAs(pl, edits),
		Label: "size: " + pr.Feet(s.Length) + " by " + pr.Feet(s.Width)}
	if s.Bought > 0 {
		v.Facts = append(v.Facts, fmt.Sprintf("%.0f %% of the boards left over or waste", 100*s.Waste()))
	}
	return v
}

// gained tells of a change and what it gains.
func gained(pl *plan.Plan, was plan.Weighed, g plan.Gain) foundView {
	cur, sys := pl.Shop.Currency(), pl.Shop.Catalog.System
	v := foundView{Words: sentence(strings.Join(g.Words, ", and ")), Sets: setsOf(g.Edits),
		Label: strings.Join(g.Words, ", ")}
	less := func(is, before float64, text func(float64) string, what string) {
		switch d := is - before; {
		case d < 0 && text(-d) != text(0):
			v.Facts = append(v.Facts, text(-d)+" less"+what)
		case d > 0 && text(d) != text(0):
			v.Facts = append(v.Facts, text(d)+" more"+what)
		}
	}
	amount := func(x float64) string { return cur.Format(money.Amount(x)) }
	less(float64(g.Of.Cost), float64(was.Cost), amount, " now")
	less(float64(g.Of.Yearly[0]+g.Of.Yearly[1])/2, float64(was.Yearly[0]+was.Yearly[1])/2, amount, " a year of its life")
	less(float64(g.Of.Life[0]+g.Of.Life[1])/2, float64(was.Life[0]+was.Life[1])/2,
		func(x float64) string { return fmt.Sprintf("%.0f years", x) }, "")
	less((g.Of.Minutes[0]+g.Of.Minutes[1])/2, (was.Minutes[0]+was.Minutes[1])/2,
		func(x float64) string { return fmt.Sprintf("%.0f min", x) }, " work")
	less(float64(g.Of.Empty), float64(was.Empty), func(x float64) string { return sys.Mass(measure.Mass(x)) },
		" of weight")
	less(float64(g.Of.Notes), float64(was.Notes), func(x float64) string { return fmt.Sprintf("%.0f", x) },
		" good to know")
	return v
}

// setsOf are edits as a form posts them.
func setsOf(edits []design.Edit) (list []string) {
	for _, e := range edits {
		list = append(list, e.Bed+">"+e.Field+"="+e.Value)
	}
	return list
}

// drawnAs is the bed as it would be, in little.
func drawnAs(pl *plan.Plan, edits []design.Edit) template.HTML {
	d, err := design.Apply(pl.Design, pl.Shop.Catalog, edits...)
	if err != nil {
		return ""
	}
	then, err := plan.Outline(d, pl.Shop)
	if err != nil {
		return ""
	}
	return template.HTML(draw.Bed(then, edits[0].Bed, draw.Solid, draw.Sheet{W: 220, H: 132, Font: 12, Plain: true}))
}

func isOne(list []design.Choice, value string) bool { return labelOf(list, value) != "" }

func labelOf(list []design.Choice, value string) string {
	for _, c := range list {
		if c.Value == value {
			return c.Label
		}
	}
	return ""
}
