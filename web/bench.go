package web

import (
	"context"
	"errors"
	"fmt"
	"html/template"
	"maps"
	"net/http"
	"slices"
	"strconv"
	"strings"

	"github.com/gin-gonic/gin"

	"chamfer/core/aside"
	"chamfer/core/design"
	"chamfer/core/measure"
	"chamfer/core/plan"
	"chamfer/core/review"
	"chamfer/core/why"
	"chamfer/draw"
	"chamfer/store"
)

type stageLink struct {
	Key, Name, Link string
	Digit           string
	Now             bool
}

type viewLink struct {
	Name, Link string
	Now        bool
}

type choiceView struct {
	Usual bool // what it starts from, among schools
	design.Choice
	Checked bool
	Effect  []plan.Change
	Refused string
	Same    bool // it changes nothing here
}

type fieldView struct {
	ID                     string // of its element on the page
	Key, Label, Help, Text string
	Idle                   string // why it changes nothing here
	Kind                   design.Kind
	Error                  string
	Choices                []*choiceView
	Unit                   string
	Was                    string // what it says before it is changed
}

type figureView struct {
	why.Figure
	Change *plan.Change
}

type remedyView struct {
	Label  string
	Note   string
	Set    []string // "field=value"
	Effect []plan.Change
	Vain   bool // it cannot be taken
}

type findingView struct {
	review.Finding
	Number   int
	Home     string // the stage that tells of it
	BedName  string // of its bed, where there are several
	Remedies []*remedyView
}

// benchPage is everything the bench template shows: where one is, what stands above and
// below every stage, what is decided, what is drawn, and what the stage has of its own.
type benchPage struct {
	where
	masthead
	decisions
	paper
	Acts     []actView // of the bed taken apart
	ActsDone int
	Findings []findingView
	Others   []findingView // that other stages tell of
	Kept     []findingView
	Tally    []figureView
	Body     any // what the stage's own template needs
	P        printer

	ctx   context.Context // of the request
	no    refused
	at    stage
	asks  [][]design.Edit // what-ifs of the page, and who takes their answers
	takes []func(plan.Outcome)
}

// masthead is what every stage of a project has above it.
type masthead struct {
	Title     string
	About     string
	Project   store.Project
	Plan      *plan.Plan
	Rev       int64
	CanUndo   bool
	CanRedo   bool
	UndoWhat  string
	Stages    []stageLink
	Beds      []viewLink
	Unasked   bool   // the project is too large to say what each alternative would change
	Said      string // what just changed, for a screen reader
	Notice    string // what went wrong, above everything
	NameError string
	NameText  string

	V       visitor
	Keeps   bool   // whoever looks may share and delete
	Designs bool   // and change what is built
	Downs   bool   // and take down what comes of the work
	As      string // what they are here, where that is not an owner
	Copies  bool   // and may take a copy to beds of their own
}

// decisions are those of a stage.
type decisions struct {
	Fields    []fieldView
	Extras    []fieldView // what can be added, and the decisions of what has been
	Added     bool        // something has
	Same      *sameView   // what was just decided, for the other beds
	Find      string      // a decision that is looked for
	BuiltAs   *builtView  // what it is built as
	OwnedUnit string      // of which it can be built in several ways
	Ways      []*wayView  // with those that are there
	Outsides  []fieldView // sizes that can be said from outside
	Outer     bool        // one was, or was just refused
	Measured  []fieldView // sizes of boards as they were measured
	Own       bool        // some have been
	OwnTimber *fieldView  // a timber of one's own, where the bed is built of boards
	OwnUnit   *fieldView  // a block of one's own, where the bed is built of blocks
	Systems   []design.System
}

// paper is the drawing of a stage and what lies on it.
type paper struct {
	Wide, Narrow       template.HTML
	Views              []viewLink
	Turns              []viewLink // ways to turn the solid
	Loads              *loadsView // where that is what is drawn
	Plot               *plotView  // where the plot is
	Ground             *groundView
	Fill               *fillView
	Water              *waterView
	Sun                *sunView
	Plants             *plantsView
	Cans               []canTold
	InHand             *partView
	HandField          fieldView
	RuleWide, RuleThin template.HTML
	Sweets             []sweetView
}

// Template is the name of the stage's own.
func (b *benchPage) Template() string { return "stage-" + b.Stage }

// Under is the template below the drawing, "" where a dimension is in hand there.
func (b *benchPage) Under() string { return b.at.Under }

// Caption is what such a drawing is called, Saves its file.
func (b *benchPage) Caption() string { return b.at.Caption }
func (b *benchPage) Saves() string   { return b.at.Saves }

// Decides reports whether this stage is where findings are mended; the others only tell of
// them.
func (b *benchPage) Decides() bool { return b.at.Decides }

// Digits are the keys that go to the stages, FirstStage and LastStage what those are called.
func (b *benchPage) Digits() string {
	if len(stages) < 10 {
		return fmt.Sprintf("1 to %d", len(stages))
	}
	return "1 to 9, 0"
}

func (b *benchPage) FirstStage() string { return stages[0].Name }
func (b *benchPage) LastStage() string  { return keyed()[9].Name }

type sweetView struct {
	Text, Effect string
	Value        string
}

// refused carries what was typed and not taken back to its fields.
type refused struct {
	values  map[string]string
	reasons map[string]string
	notice  string
	told    []string        // good news, told on the page of the stage
	shown   map[string]bool // reasons that stand at their field
}

// why is the reason a field was refused, for whoever shows it there.
func (n refused) why(key string) string {
	r := n.reasons[key]
	if r != "" && n.shown != nil {
		n.shown[key] = true
	}
	return r
}

// fill puts what was typed and refused back into its field; Was stays what is stored, so
// that the same words sent again are refused again and not taken for no change.
func (n refused) fill(v *fieldView) {
	v.Was = v.Text
	if typed, ok := n.values[v.Key]; ok {
		v.Text = typed
	}
	v.Error = n.why(v.Key)
}

// untold puts the reasons whose fields are not on this page above everything, in order.
func (b *benchPage) untold(no refused) {
	for _, key := range slices.Sorted(maps.Keys(no.reasons)) {
		if no.shown[key] || b.at.Shows != "" && strings.HasPrefix(key, b.at.Shows) {
			continue
		}
		b.Notice = strings.TrimSpace(b.Notice + " " + sentence(no.reasons[key]))
	}
}

// bench builds the page of a project at its head. since is an earlier revision
// to show differences from, 0 for none.
func (s *Server) bench(
	ctx context.Context,
	p store.Project,
	pl *plan.Plan,
	w where,
	since int64,
	no refused,
) (*benchPage, error) {
	shop := pl.Shop
	w.Since, no.shown = since, map[string]bool{}
	b := &benchPage{where: w, P: printer{pl, shop.Precision()}, ctx: ctx, no: no,
		masthead: masthead{Title: p.Design.Name, Project: p, Plan: pl, Rev: p.Head, CanUndo: p.Parent != nil,
			CanRedo: p.Redo != nil, UndoWhat: p.Revision, Notice: no.notice, NameText: p.Design.Name},
		decisions: decisions{Systems: design.Systems()}}
	if v, ok := no.values["project-name"]; ok {
		b.NameText, b.NameError = v, no.why("project-name")
	}
	for _, st := range stages {
		b.Stages = append(
			b.Stages,
			stageLink{st.Key, st.Name, w.Link("stage", st.Key), digit(st.Key), st.Key == w.Stage},
		)
		if st.Key == w.Stage {
			b.at, b.About = st, st.About
			b.Title = st.Name + ", " + p.Design.Name
		}
	}
	for _, bed := range p.Design.Beds {
		b.Beds = append(b.Beds, viewLink{bed.Name, w.Link("bed", bed.ID), bed.ID == w.Bed})
	}
	var before *plan.Plan
	if since > 0 {
		if d, err := s.store.Revision(ctx, p.ID, since); err == nil &&
			d.Region == p.Design.Region { // money is not compared with other money
			b.same(d)
			var ok bool
			if before, ok = s.plans.of(p.ID, since, shop); !ok {
				_ = planned(
					func() (err error) { before, err = plan.Reckon(d, shop); return err },
				) // nothing to compare with
			}
		}
	}
	b.tally(before)
	b.findings()
	b.fields(no)
	if b.at.Fields != nil {
		b.at.Fields(b, no)
	}
	if b.at.Draws != nil {
		b.at.Draws(b, no)
	}
	b.answer()
	if b.at.Body != nil {
		var err error
		if b.Body, err = b.at.Body(ctx, s, b, no); err != nil {
			return nil, err
		}
	}
	b.untold(no)
	return b, nil
}

func (b *benchPage) tally(before *plan.Plan) {
	moved := map[string]plan.Change{}
	if before != nil {
		var said []string
		for _, ch := range plan.Changes(before, b.Plan) {
			moved[ch.Key] = ch
			said = append(said, ch.Label+" "+ch.Text)
		}
		b.Said = strings.Join(said, ", ")
	}
	for _, f := range b.Plan.Tally {
		v := figureView{Figure: f}
		if ch, ok := moved[f.Key]; ok {
			v.Change = &ch
		}
		b.Tally = append(b.Tally, v)
	}
}

// effect keeps of a what-if what helps to choose: money, boards, soil and its depth, years.
func effect(changes []plan.Change) []plan.Change {
	var keep []plan.Change
	for _, key := range []string{"total", "boards", "soil-depth", "soil", "years"} {
		for _, ch := range changes {
			if ch.Key == key {
				keep = append(keep, ch)
			}
		}
	}
	return keep
}

// home is the stage that tells of a finding and mends it: the one that says so, or where its first remedy is decided.
func (b *benchPage) home(f review.Finding) string {
	for _, s := range stages {
		if slices.Contains(s.Tells, f.Code) {
			return s.Key
		}
	}
	bed, err := b.Plan.Design.Bed(f.Bed)
	for _, r := range f.Remedies {
		for _, e := range r.Edits {
			if err != nil || e.Bed != f.Bed {
				continue
			}
			field, ok := design.FieldOf(*bed, e.Field)
			if at, known := stageNamed(string(field.Stage)); ok && known && at.Decides {
				return at.Key
			}
		}
	}
	return frameStage.Key
}

func (b *benchPage) findings() {
	n := 0
	for _, f := range b.Plan.Findings {
		if f.Bed != b.Bed && !b.Whole() {
			continue
		}
		v := findingView{Finding: f, Home: b.home(f), BedName: b.bedName(f.Bed)}
		if len(f.Parts) > 0 && !f.Kept { // as the drawing counts them
			n++
			v.Number = n
		}
		switch {
		case v.Home != b.Stage && f.Kept:
			continue
		case v.Home != b.Stage:
			b.Others = append(b.Others, v)
			continue
		}
		for _, r := range f.Remedies {
			rv := &remedyView{Label: r.Label}
			for _, e := range r.Edits {
				rv.Set = append(rv.Set, e.Bed+">"+e.Field+"="+e.Value)
			}
			b.ask(func(o plan.Outcome) { rv.Effect, rv.Vain = effect(o.Changes), o.Err != nil }, r.Edits...)
			v.Remedies = append(v.Remedies, rv)
		}
		if f.Kept {
			b.Kept = append(b.Kept, v)
			continue
		}
		b.Findings = append(b.Findings, v)
	}
}

// Beside are the stage before this one and the one after it; Now is the one that comes next.
func (b *benchPage) Beside() (list []viewLink) {
	for i, s := range b.Stages {
		if i+1 < len(b.Stages) && b.Stages[i+1].Now || i > 0 && b.Stages[i-1].Now {
			list = append(list, viewLink{Name: s.Name, Link: s.Link, Now: i > 0 && b.Stages[i-1].Now})
		}
	}
	return list
}

// bedName is what a bed is called, "" where there is only one.
func (b *benchPage) bedName(id string) string {
	bed, err := b.Plan.Design.Bed(id)
	if err != nil || len(b.Plan.Design.Beds) < 2 {
		return ""
	}
	return bed.Name
}

// Whole reports whether a page is about all beds at once: what is cut, bought, planned and built of them together.
func (b *benchPage) Whole() bool { return !b.at.Decides && b.at.Draws == nil }

// Stops are the findings of other stages that stop the work, which a page about all beds says itself.
func (b *benchPage) Stops() (list []findingView) {
	for _, f := range b.Others {
		if f.Severity == review.Stop && b.Whole() {
			list = append(list, f)
		}
	}
	return list
}

// ToldElsewhere are the findings that other stages tell of, by bed and stage: how many of each weight.
func (b *benchPage) ToldElsewhere() (list []viewLink) {
	for _, bed := range b.Plan.Design.Beds {
		for _, s := range stages {
			var here []findingView
			for _, f := range b.Others {
				if f.Home == s.Key && f.Bed == bed.ID && (!b.Whole() || f.Severity != review.Note) {
					here = append(here, f)
				}
			}
			words := weights(here)
			if words == "" {
				continue
			}
			name := s.Name + ": " + words
			if b.Whole() && here[0].BedName != "" {
				name = here[0].BedName + ", " + name
			}
			list = append(list, viewLink{Name: name, Link: b.Link("stage", s.Key, "bed", bed.ID) + "#findings"})
		}
	}
	return list
}

func (b *benchPage) fields(no refused) {
	bed, err := b.Plan.Design.Bed(b.Bed)
	if err != nil {
		return
	}
	for _, f := range design.FieldsOf(*bed) {
		if string(f.Stage) != b.Stage || !f.Decides(b.Plan.Shop.Catalog, *bed) {
			continue
		}
		if f.Key == "system" {
			b.builtAs(*bed, no)
			continue
		}
		if f.Key == "unit" {
			b.ownUnit(no)
		}
		if f.Key == "species" {
			b.ownTimber(no)
		}
		v := b.field(f, *bed, no, true)
		if extra, turns := f.Extra(); extra {
			b.Extras = append(b.Extras, v)
			b.Added = b.Added || !turns
			b.Added = b.Added || turns && bed.Has(f.Key) || v.Error != ""
			continue
		}
		b.Fields = append(b.Fields, v)
	}
	// The sizes first, then what it is called.
	size := func(v fieldView) bool { return v.Kind == design.LengthField }
	if b.Stage == bedStage.Key {
		slices.SortStableFunc(b.Fields, func(v, o fieldView) int {
			switch {
			case size(v) == size(o):
				return 0
			case size(v):
				return -1
			}
			return 1
		})
	}
}

// weights says how many findings there are of each weight; "" for none.
func weights(told []findingView) string {
	n := map[review.Severity]int{}
	for _, f := range told {
		n[f.Severity]++
	}
	var list []string
	for _, s := range []struct {
		of    review.Severity
		words string
	}{{review.Stop, "to stop for"}, {review.Warning, "to mend"}, {review.Note, "good to know"}} {
		if n[s.of] > 0 {
			list = append(list, fmt.Sprintf("%d %s", n[s.of], s.words))
		}
	}
	return strings.Join(list, ", ")
}

// ownTimber is where a timber that someone tells of is written down.
func (b *benchPage) ownTimber(no refused) {
	b.OwnTimber = &fieldView{
		ID:    "own-timber",
		Key:   "own-timber",
		Text:  no.values["own-timber"],
		Error: no.why("own-timber"),
		Help:  "Lane ash, like cedar, lasts 5 to 8 years, 2x6 at 8 ft for 6.50, 2x6 at 10 ft for 8.20",
	}
	if b.Plan.Shop.Catalog.System == measure.Metric {
		b.OwnTimber.Help = "Lane ash, like larch, lasts 5 to 8 years, 150x38 at 2.4 m for 6.50, 150x38 at 3.6 m for 9.80"
	}
}

// ownUnit is where a block that someone measured is written down.
func (b *benchPage) ownUnit(no refused) {
	v := &fieldView{
		ID:    "own-unit",
		Key:   "own-unit",
		Text:  no.values["own-unit"],
		Error: no.why("own-unit"),
		Help:  "Lane stone 12 in x 8 in x 4 in, joint 3/8 in",
	}
	if b.Plan.Shop.Catalog.System == measure.Metric {
		v.Help = "Lane stone 300 mm x 200 mm x 100 mm, joint 10 mm"
	}
	b.OwnUnit = v
}

func (b *benchPage) field(f design.Field, bed design.Bed, no refused, effects bool) fieldView {
	v := fieldView{
		ID:    "f-" + f.Key,
		Key:   f.Key,
		Label: f.Label,
		Help:  f.Help,
		Kind:  f.Kind,
		Text:  f.Text(bed, b.Plan.Shop.Precision()),
	}
	if f.Kind == design.LengthField {
		v.Unit = "inches unless you write a unit"
		if b.Plan.Shop.Catalog.System == measure.Metric {
			v.Unit = "millimetres unless you write a unit"
		}
	}
	no.fill(&v)
	if f.Idle != nil {
		v.Idle = f.Idle(bed)
	}
	usual := f.Usual(b.Plan.Shop.Catalog)
	for _, ch := range f.Choices(b.Plan.Shop.Catalog, bed) {
		c := &choiceView{
			Choice:  ch,
			Checked: ch.Value == f.Text(bed, b.Plan.Shop.Precision()),
			Usual:   usual != "" && ch.Value == usual,
		}
		if effects && !c.Checked {
			b.ask(func(o plan.Outcome) {
				if o.Err != nil {
					c.Refused = reason(o.Err)
				}
				c.Effect = effect(o.Changes)
				c.Same = o.Same && f.Builds() && v.Idle == ""
			}, design.Edit{Bed: bed.ID, Field: f.Key, Value: ch.Value})
		}
		v.Choices = append(v.Choices, c)
	}
	return v
}

// ask puts a what-if to all the others of the page; they are answered together.
func (b *benchPage) ask(take func(plan.Outcome), edits ...design.Edit) {
	if b.Late {
		return
	}
	b.asks, b.takes = append(b.asks, edits), append(b.takes, take)
}

func (b *benchPage) answer() {
	for i, o := range plan.WhatIfs(b.ctx, b.Plan, b.asks) {
		b.Unasked = b.Unasked || o.Unasked
		b.takes[i](o)
	}
}

func reason(err error) string {
	var fault *aside.Fault
	if errors.As(err, &fault) {
		return "planning it goes wrong in the program itself; another choice may work"
	}
	if list := design.Refusals(err); len(list) > 0 {
		return list[0].Reason
	}
	return err.Error()
}

// bedDrawing draws the bed in hand, with the dimension that is.
func (b *benchPage) bedDrawing(no refused) {
	b.loads()
	b.actList()
	b.where.Acts = b.ActsDone
	b.Wide = template.HTML(draw.Bed(b.Plan, b.Bed, b.View, b.sheet(true)))
	b.Narrow = template.HTML(draw.Bed(b.Plan, b.Bed, b.View, b.sheet(false)))
	for _, v := range draw.Views {
		b.Views = append(b.Views, viewLink{v.Name, b.Link("view", string(v.View)), v.View == b.View})
	}
	bed, err := b.Plan.Design.Bed(b.Bed)
	if err != nil {
		return
	}
	f, ok := design.FieldOf(*bed, b.Hand)
	if !ok {
		return
	}
	b.HandField = b.field(f, *bed, no, false)
	b.inHand(*bed, no)
	if b.Late {
		return
	}
	near := plan.Nearby(b.ctx, b.Plan, b.Bed, b.Hand, b.Plan.Shop.Step(), nearEach)
	pr, cur := b.Plan.Shop.Precision(), b.Plan.Shop.Currency()
	b.RuleWide = template.HTML(draw.Rule(near, pr, cur, 860))
	b.RuleThin = template.HTML(draw.Rule(near, pr, cur, 360))
	for _, k := range plan.Sweets(near, 4) {
		text := cur.Format(k.More)
		switch {
		case k.More == 0:
			text = "same price"
		case k.More > 0:
			text = "+" + text
		}
		b.Sweets = append(b.Sweets, sweetView{pr.Feet(k.Length), text, k.Length.String()})
	}
}

// nearEach is how many sizes the rule shows on either side of the one in hand. Tests show fewer.
var nearEach = 50

// stage shows one stage of a project.
func (s *Server) stage(c *gin.Context) {
	if s.shownAgain(c, c.Param("stage")) {
		return
	}
	p, shop, ok := s.project(c)
	if !ok {
		return
	}
	w := s.where(c, p, c.Query)
	if c.Param("stage") != w.Stage {
		s.fault(c, http.StatusNotFound, "There is no such page.",
			fmt.Sprintf("The stages of a project run from %s to %s.", stages[0].Name, stages[len(stages)-1].Name))
		return
	}
	s.showBench(c, http.StatusOK, p, shop, w, w.Since, refused{})
}

func (s *Server) showBench(
	c *gin.Context,
	status int,
	p store.Project,
	shop plan.Shop,
	w where,
	since int64,
	no refused,
) {
	s.benchOf(c, status, p, shop, w, since, no, nil)
}

// benchOf shows the bench of a project at its head; pl is its plan where it has been
// made.
func (s *Server) benchOf(
	c *gin.Context,
	status int,
	p store.Project,
	shop plan.Shop,
	w where,
	since int64,
	no refused,
	pl *plan.Plan,
) {
	if pl == nil {
		var ok bool
		if pl, ok = s.plan(c, p, shop); !ok {
			return
		}
	}
	s.rekeep(context.WithoutCancel(c.Request.Context()), p.Standing, pl)
	speaks(c, pl)
	page, err := s.bench(c.Request.Context(), p, pl, w, since, no)
	if err == nil {
		err = s.hands(c, page)
	}
	if err != nil {
		s.trouble(c, fmt.Errorf("plan project %d: %w", p.ID, err))
		return
	}
	name := "page.html"
	if scripted(c) {
		name = "bench"
	}
	s.show(c, status, name, page)
}

// Had is how many of a fixing are there already, as it was typed where that was refused.
func (b *benchPage) Had(id string) string {
	if typed, ok := b.no.values["have:"+id]; ok {
		return typed
	}
	return b.WasThere(id)
}

// WasThere is how many of a fixing are reckoned with.
func (b *benchPage) WasThere(id string) string {
	if n := b.Plan.Design.Have[id]; n > 0 {
		return strconv.Itoa(n)
	}
	return ""
}

// HadError is why what was typed there was refused.
func (b *benchPage) HadError(id string) string { return b.no.why("have:" + id) }
