package web

import (
	"fmt"
	"html/template"
	"net/http"
	"slices"
	"strings"

	"github.com/gin-gonic/gin"

	"chamfer/core/catalog"
	"chamfer/core/cost"
	"chamfer/core/frame"
	"chamfer/core/measure"
	"chamfer/core/money"
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
	Was   string // the price as it is reckoned with
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
		b.Body = logBody{logEntries(list, b.Rev, b.Plan.Shop.Speech())}
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
			if p.Course > 0 && !strings.HasSuffix(word, "board") {
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
}{{cost.Timber, "Timber"}, {cost.Masonry, "Blocks, base and mortar"}, {cost.Fixings, "Fixings"}, {cost.Sheets,
	"Sheets and cloth"}, {cost.Soil, "Soil"}}

func (b *benchPage) bill() billBody {
	best, worst := b.Plan.PerYear()
	body := billBody{
		Best:     b.P.Money(best),
		Worst:    b.P.Money(worst),
		PerArea:  b.P.Money(b.Plan.PerArea()),
		AreaUnit: b.Plan.AreaUnit(),
	}
	for _, g := range groupNames {
		group := billGroup{Name: g.Name, Sum: b.P.Money(b.Plan.Bill.Of(g.Group))}
		for _, l := range b.Plan.Bill.Lines {
			if l.Group == g.Group {
				line := billLine{
					Line:  l,
					Text:  l.Price.String(),
					Was:   l.Price.String(),
					Error: b.no.why("price:" + l.SKU),
				}
				if typed, ok := b.no.values["price:"+l.SKU]; ok {
					line.Text = typed
				}
				group.Lines = append(group.Lines, line)
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
	if !slices.ContainsFunc(b.Plan.Steps, func(st work.Step) bool { return st.ID == b.Step }) {
		b.Step = "" // it has gone with a change of the design: the first that is not done
	}
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

// tick marks a build step done or not, and goes on to the next. Only steps of the plan
// are ticked.
func (s *Server) tick(c *gin.Context) {
	p, pl, ok := s.planned(c)
	if !ok {
		return
	}
	step := c.PostForm("tick")
	done := c.PostForm("done") == "yes"
	known := func(id string) bool {
		return slices.ContainsFunc(pl.Steps, func(st work.Step) bool { return st.ID == id })
	}
	if !known(step) {
		s.fault(
			c,
			http.StatusBadRequest,
			"There is no such step.",
			"It may have gone with a change of the design: go back to the build stage and tick it there.",
		)
		return
	}
	if err := s.store.Tick(p.ID, "step:"+step, done); err != nil {
		s.trouble(c, err)
		return
	}
	w := s.where(c, p, c.PostForm)
	w.Stage, w.Step = "build", step
	if next := c.PostForm("next"); done && known(next) {
		w.Step = next
	}
	if !scripted(c) {
		c.Redirect(http.StatusSeeOther, w.Link("step", w.Step)+"#step")
		return
	}
	s.benchOf(c, http.StatusOK, p, pl.Shop, w, 0, refused{}, pl)
}

// regionName is what a region is called, for lists.
func regionName(id string) string {
	if c, err := catalog.ForRegion(id); err == nil {
		return c.Name
	}
	return id
}
