package web

import (
	"net/http"

	"github.com/gin-gonic/gin"

	"chamfer/core/work"
)

// cautionsPage is all that can hurt in this job, with its reason and its steps, to
// print.
type cautionsPage struct {
	Title, Back, Name string
	Dangers           []work.Danger
	Step              string // link to a step, its ID left out
}

func (s *Server) cautions(c *gin.Context) {
	p, b, ok := s.toPrint(c, "build")
	if !ok {
		return
	}
	s.show(
		c,
		http.StatusOK,
		"cautions.html",
		cautionsPage{Title: "Cautions for this job", Name: p.Design.Name, Back: b.Link("stage", "build"),
			Dangers: work.Dangers(b.Plan.Steps), Step: b.Link("stage", "build", "step", "")},
	)
}
