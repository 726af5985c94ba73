package web

import (
	"fmt"
	"html/template"
	"net/http"

	"github.com/gin-gonic/gin"

	"chamfer/core/setout"
	"chamfer/draw"
	"chamfer/store"
)

// setOutPage is the setting-out sheet of one bed, to print and take outside.
type setOutPage struct {
	Title, Back string
	Name        string
	Beds        []viewLink
	Wide, Thin  template.HTML
	Cut, Slim   template.HTML // the section
	Sheet       setout.Sheet
	P           printer
}

func (s *Server) setOut(c *gin.Context) {
	p, b, ok := s.toPrint(c, "ground")
	if !ok {
		return
	}
	f, pr := b.frame(), b.Plan.Shop.Precision()
	page := setOutPage{
		Title: "Setting out: " + f.Name,
		Name:  p.Design.Name,
		Back:  b.Link("stage", "ground"),
		P:     b.P,
		Sheet: setout.Of(f, pr),
	}
	for _, bed := range p.Design.Beds {
		page.Beds = append(
			page.Beds,
			viewLink{bed.Name, fmt.Sprintf("/p/%d/set-out?bed=%s", p.ID, bed.ID), bed.ID == f.Bed},
		)
	}
	page.Wide = template.HTML(draw.SetOut(f, pr, draw.Sheet{W: 900, H: 600, Font: 17}))
	page.Thin = template.HTML(draw.SetOut(f, pr, draw.Sheet{W: 360, H: 340, Font: 13}))
	page.Cut = template.HTML(draw.Section(f, pr, draw.Sheet{W: 900, H: 420, Font: 17}))
	page.Slim = template.HTML(draw.Section(f, pr, draw.Sheet{W: 360, H: 260, Font: 13}))
	s.show(c, http.StatusOK, "setout.html", page)
}

// toPrint plans a project for a sheet of its own that belongs to a stage.
func (s *Server) toPrint(c *gin.Context, stage string) (store.Project, *benchPage, bool) {
	p, pl, ok := s.planned(c)
	if !ok {
		return p, nil, false
	}
	w := s.where(c, p, c.Query)
	w.Stage = stage
	b, err := s.bench(c.Request.Context(), p, pl, w, w.Since, refused{})
	if err != nil {
		s.trouble(c, err)
		return p, nil, false
	}
	return p, b, true
}
