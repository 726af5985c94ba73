package web

import (
	"fmt"
	"html/template"
	"net/http"
	"slices"
	"strings"
	"time"

	"github.com/gin-gonic/gin"

	"chamfer/core/catalog"
	"chamfer/core/cost"
	"chamfer/core/cutting"
	"chamfer/core/frame"
	"chamfer/core/measure"
	"chamfer/core/money"
	"chamfer/core/plan"
	"chamfer/core/work"
	"chamfer/draw"
)

// The printer's methods are what templates may print with.

func (p printer) Feet(l measure.Length) string   { return p.pr.Feet(l) }
func (p printer) Short(l measure.Length) string  { return p.pr.Short(l) }
func (p printer) Area(a measure.Area) string     { return p.plan.Shop.Catalog.System.Area(a) }
func (p printer) Volume(v measure.Volume) string { return p.plan.Shop.Catalog.System.Volume(v) }
func (p printer) Mass(m measure.Mass) string     { return p.plan.Shop.Catalog.System.Mass(m) }
func (p printer) Money(a money.Amount) string    { return p.plan.Shop.Currency().Format(a) }
func (p printer) Percent(perMille int) string {
	return strings.TrimSuffix(fmt.Sprintf("%.1f", float64(perMille)/10), ".0") + " %"
}

// Units writes a quantity with its unit: 6 boards, 1 box of 50, 3 × 0.5 yd3.
func (p printer) Units(n int, unit string) string {
	if unit != "" && unit[0] >= '0' && unit[0] <= '9' {
		return fmt.Sprintf("%d × %s", n, unit)
	}
	if n != 1 {
		word, rest, _ := strings.Cut(unit, " ")
		if word == "box" {
			word += "e"
		}
		unit = strings.TrimSpace(word + "s " + rest)
	}
	return fmt.Sprintf("%d %s", n, unit)
}

type boardView struct {
	Count   int
	Label   string
	Wide    template.HTML
	Thin    template.HTML
	Cuts    []cutView
	Offcut  string
	Letters string
	Index   int    // of the plan's boards of its kind
	Next    string // the piece that is cut next
	Pieces  int
	Ripped  bool
	From    string // where it comes from, if it is not bought
}

type cutView struct {
	Letter, Use, Length, Mark string
}

type cutsView struct {
	Name    string
	Boards  []boardView
	Cost    string
	Verdict string
	Unmet   []cutting.Unmet
	Lines   []lineView // what to buy
	Rounded bool
	Index   int
	Sawn    []sawnView
	Setups  []setupView
	Others  []otherView
	Fits    []otherView // where pieced sides had better be joined
	Absent  []lineView
	Longer  longerView
	Stamp   string // of the boards as they are planned here
}

type lineView struct {
	Count int
	Label string
	SKU   string
}

// otherView is another way to buy, and the pairs that choose it.
type otherView struct {
	Words, Effect string
	Set           []string
}

type cutsBody struct {
	Groups []cutsView
	Waste  int
	Kerf   string
	Carry  string
	Proved bool
	Shed   shedView
	Units  []unitsView
}

// unitsView is one unit of the shop with what is laid of it.
type unitsView struct {
	Name, Cost, Mass string
	Buy              int
	Kinds            []string
}

type jointsBody struct{ Joints []jointView }

// jointView is how one kind of joint is made.
type jointView struct {
	Name    string
	Drawing template.HTML
	Words   []string
}

type buildBody struct {
	Steps []stepView
	Now   stepView
	Done  int
}

type stepView struct {
	work.Step
	Number int
	Done   bool
	Link   string
	Next   string
	Wide   template.HTML
	Thin   template.HTML
}

type billBody struct {
	Groups []billGroup
	Best   string
	Worst  string
	PerArea,
	AreaUnit string
}

type billGroup struct {
	Name  string
	Lines []billLine
	Sum   string
}

type billLine struct {
	cost.Line
	Error string
	Text  string // of the price field
}

type logBody struct {
	Entries []logEntry
}

type logEntry struct {
	ID    int64
	Label string
	When  string
	Now   bool
}

// stageBody prepares what a stage shows beside the fields and the drawing.
func (b *benchPage) stageBody(s *Server, no refused) error {
	switch b.Stage {
	case "cuts":
		body := b.cuts()
		for i := range body.Groups {
			body.Groups[i].Longer = s.longerView(b.Plan.Cuts[i], b.Plan.Shop.Currency())
		}
		var err error
		if body.Shed, err = b.shedView(s, no); err != nil {
			return err
		}
		b.Body = body
	case "fixings":
		b.Body = b.joints()
	case "bill":
		b.Body = b.bill()
	case "build":
		ticks, err := s.store.Ticks(b.ID)
		if err != nil {
			return err
		}
		b.Body = b.build(ticks)
	case "log":
		list, err := s.store.History(b.ID, 200)
		if err != nil {
			return err
		}
		body := logBody{}
		for _, r := range list {
			when := r.Created
			if t, err := time.Parse(time.RFC3339, r.Created); err == nil {
				when = t.Format("2 January 2006, 15:04") + " UTC"
			}
			body.Entries = append(body.Entries, logEntry{r.ID, r.Label, when, r.ID == b.Rev})
		}
		b.Body = body
	}
	return nil
}

// joints draws how the joints of the bed in hand are made.
func (b *benchPage) joints() *jointsBody {
	pr := b.Plan.Shop.Precision()
	body := &jointsBody{}
	for _, d := range b.Plan.Fixings.Details([]frame.Frame{*b.frame()}, b.Plan.Shop.Catalog) {
		name := string(d.Kind)
		body.Joints = append(body.Joints, jointView{Name: strings.ToUpper(name[:1]) + name[1:], Words: d.Words(pr),
			Drawing: template.HTML(draw.Joint(d, pr, draw.Sheet{W: 420, H: 170, Font: 12.5}))})
	}
	if len(body.Joints) == 0 {
		return nil
	}
	return body
}

func (b *benchPage) cuts() cutsBody {
	pr, cur := b.Plan.Shop.Precision(), b.Plan.Shop.Currency()
	body := cutsBody{Waste: b.Plan.Waste(), Kerf: b.Plan.Shop.Habits.Kerf.String(), Carry: pr.Feet(b.Plan.Shop.Habits.Carry), Proved: true}
	for _, c := range b.Plan.Laying.Units {
		v := unitsView{Name: c.Unit.Name, Cost: cur.Format(c.Cost), Mass: b.P.Mass(c.Mass), Buy: c.Buy}
		for _, k := range c.Kinds {
			words := fmt.Sprintf("%d × %s", k.Count, k.Name)
			switch {
			case k.Cut > 0 && k.Name == "cut":
				words += " to " + pr.Short(k.Cut)
			case k.Cut > 0:
				words += ", cut to " + pr.Short(k.Cut)
			}
			if k.Angle != 0 {
				words += fmt.Sprintf(", mitred at %.1f° from square", k.Angle)
			}
			v.Kinds = append(v.Kinds, words)
		}
		body.Units = append(body.Units, v)
	}
	uses := b.uses()
	var full measure.Length
	for _, c := range b.Plan.Cuts {
		for _, board := range c.Answer.Boards {
			full = max(full, board.Stock.Length)
		}
	}
	for k, c := range b.Plan.Cuts {
		g := cutsView{Name: c.Profile.Name + ", " + c.Species.Name, Cost: cur.Format(c.Answer.Cost), Unmet: c.Answer.Unmet, Index: k, Stamp: c.Stamp(),
			Sawn: b.sawn(c), Setups: setups(c, pr), Verdict: "No cheaper way to buy and cut this exists."}
		switch {
		case len(c.Request.Pieces) == 0:
			g.Verdict = "All of it is cut."
		case !c.Answer.Proved:
			body.Proved = false
			g.Verdict = fmt.Sprintf("No way costs less than %s; this one may be up to %s above the least.", cur.Format(c.Answer.LowerBound), cur.Format(c.Answer.Cost-c.Answer.LowerBound))
		}
		counts := c.Answer.Bought()
		label := map[string]string{}
		for _, o := range c.Offers {
			label[o.SKU] = o.Label
			if n := counts[o.SKU]; n > 0 && !plan.Owned(o.SKU) {
				g.Lines = append(g.Lines, lineView{n, pr.Feet(o.Length), o.SKU})
			}
		}
		for i, board := range c.Answer.Boards {
			v := boardView{Count: board.Count, Label: pr.Feet(board.Stock.Length), Offcut: pr.Short(board.Offcut), Index: i, Pieces: len(board.Cuts), Ripped: plan.Whole(board),
				Wide: template.HTML(draw.Board(board, c.Request.Kerf, full, pr, 900)),
				Thin: template.HTML(draw.Board(board, c.Request.Kerf, full, pr, 340))}
			if board.Part > 0 {
				v.From = fmt.Sprintf("%s, cut at %s by the shop", v.Label, pr.Short(board.Part))
			}
			if plan.Owned(board.Stock.ID) {
				v.From = label[board.Stock.ID]
			}
			for n, cut := range board.Cuts {
				view := cutView{Letter: cut.Piece, Use: uses[cut.Piece], Length: pr.Short(cut.Length), Mark: pr.Short(cut.End())}
				if cut.Width > 0 && cut.Width < board.Stock.Width {
					view.Length += " × " + pr.Short(cut.Width)
				}
				if cut.Out > 1 {
					view.Use += fmt.Sprintf(", ripped into %d", cut.Out)
				}
				v.Cuts = append(v.Cuts, view)
				if n == 0 {
					v.Next = cut.Piece + " " + view.Length
				}
				g.Rounded = g.Rounded || !pr.Exact(cut.Length)
			}
			g.Boards = append(g.Boards, v)
		}
		for _, o := range b.Plan.Others(c) {
			v := otherView{Words: o.Words, Effect: cur.Format(o.More) + " more"}
			switch {
			case o.Boards == 1 || o.Boards == -1:
				v.Effect += fmt.Sprintf(", %s board", signed(o.Boards))
			case o.Boards != 0:
				v.Effect += fmt.Sprintf(", %s boards", signed(o.Boards))
			}
			for _, sku := range o.Without {
				v.Set = append(v.Set, ">without:"+sku+"=yes")
			}
			g.Others = append(g.Others, v)
		}
		for _, f := range b.Plan.FitJoints(c) {
			v := otherView{Words: "Join the sides of " + f.Name + " for what there is", Effect: cur.Format(f.More), Set: []string{f.Edit.Bed + ">" + f.Edit.Field + "=" + f.Edit.Value}}
			if f.Joints != 0 {
				v.Effect += fmt.Sprintf(", %s joints", signed(f.Joints))
			}
			g.Fits = append(g.Fits, v)
		}
		for _, o := range c.Absent {
			g.Absent = append(g.Absent, lineView{Label: o.Label, SKU: o.SKU})
		}
		body.Groups = append(body.Groups, g)
	}
	return body
}

// signed writes a number with its sign.
func signed(n int) string {
	if n < 0 {
		return fmt.Sprintf("−%d", -n)
	}
	return fmt.Sprintf("+%d", n)
}

// uses says what each letter is, for reading, and where there are several beds
// whose it is: a letter of several is cut once for all of them.
func (b *benchPage) uses() map[string]string {
	uses, beds := map[string]string{}, map[string][]string{}
	for i := range b.Plan.Frames {
		f := &b.Plan.Frames[i]
		for _, p := range f.Parts {
			word := p.Kind
			if p.Course > 0 {
				word += " board"
			}
			if !strings.Contains(uses[p.Letter], word) {
				if uses[p.Letter] != "" {
					word = uses[p.Letter] + ", " + word
				}
				uses[p.Letter] = word
			}
			if !slices.Contains(beds[p.Letter], f.Name) {
				beds[p.Letter] = append(beds[p.Letter], f.Name)
			}
		}
	}
	if len(b.Plan.Frames) > 1 {
		for letter, of := range beds {
			uses[letter] += " of " + strings.Join(of, " and ")
		}
	}
	return uses
}

var groupNames = []struct {
	Group cost.Group
	Name  string
}{{cost.Timber, "Timber"}, {cost.Masonry, "Blocks, base and mortar"}, {cost.Fixings, "Fixings"}, {cost.Sheets, "Sheets and cloth"}, {cost.Soil, "Soil"}}

func (b *benchPage) bill() billBody {
	best, worst := b.Plan.PerYear()
	body := billBody{Best: b.P.Money(best), Worst: b.P.Money(worst), PerArea: b.P.Money(b.Plan.PerArea()), AreaUnit: b.Plan.AreaUnit()}
	for _, g := range groupNames {
		group := billGroup{Name: g.Name, Sum: b.P.Money(b.Plan.Bill.Of(g.Group))}
		for _, l := range b.Plan.Bill.Lines {
			if l.Group == g.Group {
				group.Lines = append(group.Lines, billLine{Line: l, Text: l.Price.String()})
			}
		}
		if len(group.Lines) > 0 {
			body.Groups = append(body.Groups, group)
		}
	}
	return body
}

func (b *benchPage) build(ticks map[string]bool) buildBody {
	body := buildBody{}
	at := -1
	for i, st := range b.Plan.Steps {
		v := stepView{Step: st, Number: i + 1, Done: ticks["step:"+st.ID], Link: b.Link("step", st.ID) + "#step"}
		if v.Done {
			body.Done++
		}
		if st.ID == b.Step || b.Step == "" && at < 0 && !v.Done {
			at = i
		}
		body.Steps = append(body.Steps, v)
	}
	if at < 0 {
		at = len(body.Steps) - 1
	}
	now := &body.Steps[at]
	next := min(at+1, len(body.Steps)-1)
	now.Next = body.Steps[next].ID
	if len(now.Parts) > 0 {
		sheet := draw.Sheet{W: 620, H: 380, Font: 16, Plain: true, Parts: now.Parts, New: now.New}
		now.Wide = template.HTML(draw.Bed(b.Plan, now.Bed, draw.Solid, sheet))
		sheet.W, sheet.H, sheet.Font = 340, 240, 14
		now.Thin = template.HTML(draw.Bed(b.Plan, now.Bed, draw.Solid, sheet))
	}
	body.Now = *now
	return body
}

// tick marks a build step done or not, and goes on to the next.
func (s *Server) tick(c *gin.Context) {
	p, shop, ok := s.project(c)
	if !ok {
		return
	}
	step := c.PostForm("tick")
	done := c.PostForm("done") == "yes"
	if len(step) > 60 || step == "" {
		s.fault(c, http.StatusBadRequest, "There is no such step.", "Go back to the build stage and tick it there.")
		return
	}
	if err := s.store.Tick(p.ID, "step:"+step, done); err != nil {
		s.trouble(c, err)
		return
	}
	w := s.where(c, p, c.PostForm)
	w.Stage, w.Step = "build", step
	if next := c.PostForm("next"); done && next != "" {
		w.Step = next
	}
	if !scripted(c) {
		c.Redirect(http.StatusSeeOther, w.Link("step", w.Step)+"#step")
		return
	}
	s.showBench(c, http.StatusOK, p, shop, w, 0, refused{})
}

// regionName is what a region is called, for lists.
func regionName(id string) string {
	if c, err := catalog.ForRegion(id); err == nil {
		return c.Name
	}
	return id
}
