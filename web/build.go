package web

import (
	"context"
	"html/template"
	"net/http"
	"slices"

	"github.com/gin-gonic/gin"

	"chamfer/core/plan"
	"chamfer/core/work"
	"chamfer/draw"
	"chamfer/store"
)

// buildStage goes through the work, one step at a time.
var buildStage = stage{Key: "build", Name: "Build", About: "One step at a time",
	Body: func(ctx context.Context, s *Server, b *benchPage, _ refused) (any, error) {
		done, undone, err := s.doneOf(ctx, b.ID, b.Plan)
		if err != nil {
			return nil, err
		}
		return b.build(done, undone), nil
	}}

type buildBody struct {
	Steps  []stepView
	Now    stepView
	Done   int
	Undone []stepView // ticked, and changed since
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

type stepView struct {
	work.Step
	Number int
	Done   bool
	Link   string
	Next   string
	Wide   template.HTML
	Thin   template.HTML
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
	now.Next = body.Steps[next].ID
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
	if err := s.store.Tick(p.ID, ticked(pl, map[string]bool{step: done})...); err != nil {
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
