package web

import (
	"chamfer/core/work"
	"chamfer/draw"
	"context"
	"html/template"
	"net/http"
	"slices"

	"github.com/gin-gonic/gin"
)

// buildStage goes through the work, one step at a time.
var buildStage = stage{Key: "build", Name: "Build", About: "One step at a time",
	Body: func(ctx context.Context, s *Server, b *benchPage, _ refused) (any, error) {
		ticks, err := s.store.Ticks(ctx, b.ID)
		if err != nil {
			return nil, err
		}
		return b.build(ticks), nil
	}}

type buildBody struct {
	Steps []stepView
	Now   stepView
	Done  int
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
	if err := s.store.Tick(p.ID, "step:"+step, done); err != nil {
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
