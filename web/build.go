package web

import (
	"context"
	"html/template"
	"net/http"
	"slices"
	"strings"
	"time"

	"github.com/gin-gonic/gin"

	"chamfer/core/catalog"
	"chamfer/core/plan"
	"chamfer/core/record"
	"chamfer/core/work"
	"chamfer/draw"
	"chamfer/store"
)

// buildStage goes through the work, one step at a time.
var buildStage = stage{Key: "build", Name: "Build", About: "One step at a time",
	Body: func(ctx context.Context, s *Server, b *benchPage, no refused) (any, error) {
		done, undone, err := s.doneOf(ctx, b.ID, b.Plan)
		if err != nil {
			return nil, err
		}
		ticks, err := s.store.Ticks(ctx, b.ID)
		if err != nil {
			return nil, err
		}
		body := b.build(done, undone)
		body.Made = time.Now().UnixMilli()
		body.Now.Waits = b.waits(body.Now.Step, done, ticks)
		took, err := s.takingsOf(ctx, b.ID)
		if err != nil {
			return nil, err
		}
		body.Now.wrote(took, no)
		body.Told = no.told
		body.Photos, err = s.photosOf(ctx, b, body.Now.ID)
		for _, f := range []struct{ key, label, help string }{{"size:what", "What", "the long side, between the posts"},
			{"size:planned", "Planned", "where that is known"}, {"size:measured", "Measured", ""}} {
			v := fieldView{ID: catalog.Slug(f.key), Key: f.key, Label: f.label, Help: f.help}
			no.fill(&v)
			body.Sizes = append(body.Sizes, v)
		}
		body.Caption, body.PhotoNo = no.values["caption"], sentence(no.why("photo"))
		body.Differs = body.PhotoNo != "" || len(no.reasons) > 0 && no.values["size:what"] != ""
		return body, err
	}}

type buildBody struct {
	Steps            []stepView
	Now              stepView
	Done             int
	Undone           []stepView // ticked, and changed since
	Told             []string   // of what went wrong
	Photos           []photoView
	Sizes            []fieldView // of what is different here
	Caption, PhotoNo string
	Differs          bool  // something of that was refused
	Made             int64 // when this page was made, in milliseconds: a kept one is older than what is known since
}

// doneOf are the steps of a plan that are done, by ID, and those that were and have changed since.
func (s *Server) doneOf(ctx context.Context, project int64, p *plan.Plan) (done, undone map[string]bool, err error) {
	ticks, err := s.store.Ticks(ctx, project)
	if err != nil {
		return nil, nil, err
	}
	done, undone = map[string]bool{}, map[string]bool{}
	for _, st := range p.Steps {
		t, ok := ticks["step:"+st.ID]
		if !ok && st.Was != "" {
			t, ok = ticks["step:"+st.Was]
		}
		switch {
		case !ok:
		case t.Print != "" && t.Print != st.Print:
			undone[st.ID] = true
		default:
			done[st.ID] = true
		}
	}
	return done, undone, nil
}

// ticked are ticks of steps of a plan, by their IDs.
func ticked(p *plan.Plan, done map[string]bool) (list []store.Tick) {
	for _, st := range p.Steps {
		if is, ok := done[st.ID]; ok {
			list = append(list, store.Tick{Key: "step:" + st.ID, Print: st.Print, Done: is})
		}
	}
	return list
}

// CodeText is what was typed as a build sheet's code, CodeError why it was not taken.
func (b *benchPage) CodeText() string  { return b.no.values["code"] }
func (b *benchPage) CodeError() string { return b.no.why("code") }

// fetchView are pieces of one letter to fetch.
type fetchView struct {
	Count  int
	Letter string
}

// waitView is how long a step waits for an earlier one.
type waitView struct {
	What, How, After      string
	Least, Sure           string // RFC 3339; "" where the earlier one is not ticked
	LeastWords, SureWords string
}

type stepView struct {
	work.Step
	Fetch              []fetchView
	Blocks             []blockView
	Waits              []waitView
	BackLink, NextLink string
	Facts              string // how long it takes, how many, in what weather
	Took, Note         string // what was written down
	TookError          string
	Number             int
	Done               bool
	Link               string
	Next               string
	Wide               template.HTML
	Thin               template.HTML
}

func (b *benchPage) build(done, undone map[string]bool) buildBody {
	body := buildBody{}
	at := -1
	if !slices.ContainsFunc(b.Plan.Steps, func(st work.Step) bool { return st.ID == b.Step }) {
		b.Step = "" // it has gone with a change of the design: the first that is not done
	}
	for i, st := range b.Plan.Steps {
		v := stepView{Step: st, Number: i + 1, Done: done[st.ID], Link: b.Link("step", st.ID) + "#step"}
		if v.Done {
			body.Done++
		}
		if st.ID == b.Step || b.Step == "" && at < 0 && !v.Done {
			at = i
		}
		body.Steps = append(body.Steps, v)
		if undone[st.ID] {
			body.Undone = append(body.Undone, v)
		}
	}
	if at < 0 {
		at = len(body.Steps) - 1
	}
	now := &body.Steps[at]
	next := min(at+1, len(body.Steps)-1)
	now.Next, now.NextLink = body.Steps[next].ID, body.Steps[next].Link
	if at > 0 {
		now.BackLink = body.Steps[at-1].Link
	}
	now.Fetch = b.fetch(now.Step)
	now.Blocks = b.blocks(now.Step)
	v := b.workOf(at)
	now.Facts = joined(v.Lasts, v.Also)
	if len(now.Parts) > 0 {
		sheet := draw.Sheet{W: 620, H: 380, Font: 16, Plain: true, Parts: now.Parts, New: now.New}
		now.Wide = template.HTML(draw.Bed(b.Plan, now.Bed, draw.Solid, sheet))
		sheet.W, sheet.H, sheet.Font = 340, 240, 14
		now.Thin = template.HTML(draw.Bed(b.Plan, now.Bed, draw.Solid, sheet))
	}
	if now.Sheet != "" {
		now.Wide = template.HTML(draw.Lining(b.Plan, now.Sheet, draw.Sheet{W: 620, H: 300, Font: 15}))
		now.Thin = template.HTML(draw.Lining(b.Plan, now.Sheet, draw.Sheet{W: 340, H: 250, Font: 12}))
	}
	body.Now = *now
	return body
}

// wrote puts beside a step what was written down of it, or what was typed and refused.
func (v *stepView) wrote(list []record.Taking, no refused) {
	for _, t := range list {
		if t.Step == v.ID {
			if v.Note = t.Note; t.Minutes > 0 {
				v.Took = t.Text()
			}
		}
	}
	if typed, ok := no.values["took"]; ok {
		v.Took, v.Note, v.TookError = typed, no.values["note"], sentence(no.why("took"))
	}
}

// fetch are the pieces a step adds, by their letters.
func (b *benchPage) fetch(st work.Step) (list []fetchView) {
	for i := range b.Plan.Frames {
		f := &b.Plan.Frames[i]
		if f.Bed != st.Bed {
			continue
		}
		for _, id := range st.New {
			p, ok := f.Part(id)
			if !ok {
				continue
			}
			k := slices.IndexFunc(list, func(v fetchView) bool { return v.Letter == p.Letter })
			if k < 0 {
				k = len(list)
				list = append(list, fetchView{Letter: p.Letter})
			}
			list[k].Count += f.Times
		}
	}
	return list
}

// waits are what a step has to leave alone first, from when the step before was ticked.
func (b *benchPage) waits(st work.Step, done map[string]bool, ticks map[string]store.Tick) (list []waitView) {
	for _, x := range st.After {
		if x.Wait.High == 0 {
			continue
		}
		k := slices.IndexFunc(b.Plan.Steps, func(o work.Step) bool { return o.ID == x.ID })
		v := waitView{What: sentence(x.Wait.What), How: x.Wait.Words(), After: b.Plan.Steps[k].Title}
		v.What = strings.TrimSuffix(v.What, ".")
		if at, err := time.Parse(time.RFC3339, ticks["step:"+x.ID].At); err == nil && done[x.ID] {
			until := func(hours float64) (string, string) {
				t := at.Add(time.Duration(hours * float64(time.Hour)))
				return t.Format(time.RFC3339), t.UTC().Format("2 January, 15:04") + " UTC"
			}
			v.Least, v.LeastWords = until(x.Wait.Low)
			if x.Wait.High > x.Wait.Low {
				v.Sure, v.SureWords = until(x.Wait.High)
			}
		}
		list = append(list, v)
	}
	return list
}

// longAgo is how far back a tick may have been given where there was no network.
const longAgo = 60 * 24 * time.Hour

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
	_, wrote := c.Request.PostForm["took"]
	took, err := tookOf(step, c.PostForm("took"), c.PostForm("note"), wrote)
	if err != nil {
		w := s.where(c, p, c.PostForm)
		w.Stage, w.Step = "build", step
		s.showBench(c, http.StatusUnprocessableEntity, p, pl.Shop, w, 0, refused{
			values:  map[string]string{"took": c.PostForm("took"), "note": c.PostForm("note")},
			reasons: map[string]string{"took": err.Error()}})
		return
	}
	if err := s.store.Took(p.ID, took...); err != nil {
		s.trouble(c, err)
		return
	}
	list := ticked(pl, map[string]bool{step: done})
	if at, err := time.Parse(time.RFC3339, c.PostForm("at")); err == nil && at.Before(time.Now()) &&
		time.Since(at) < longAgo { // it was given where there was no network
		list[0].At = at.UTC().Format(time.RFC3339)
	}
	if err := s.store.Tick(p.ID, list...); err != nil {
		s.trouble(c, err)
		return
	}
	s.did(c, "a step was ticked")
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
