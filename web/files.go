package web

import (
	"bytes"
	"errors"
	"fmt"
	"net/http"
	"strings"
	"time"

	"github.com/gin-gonic/gin"

	"chamfer/core/catalog"
	"chamfer/core/plan"
	"chamfer/export"
	sheets "chamfer/paper"
	"chamfer/store"
)

// file serves a project in an open format.
func (s *Server) file(c *gin.Context) {
	name := c.Param("file")
	if name == "project.chamfer.json" {
		s.projectFile(c)
		return
	}
	if name == "calendar.ics" {
		s.calendarFile(c)
		return
	}
	f, ok := export.FormatNamed(name)
	if !ok {
		s.fault(c, http.StatusNotFound, "There is no such file.",
			"The bill and the cut sheet link to every file a project has.")
		return
	}
	p, pl, ok := s.planned(c)
	if !ok {
		return
	}
	asked := export.Asked{Bed: c.Query("bed"), Year: time.Now().Year(), Ends: fmt.Sprintf("p%d", p.ID)}
	if size, err := sheets.ParseSize(c.Query("paper"), ""); err == nil {
		asked.Size = size
	}
	asked.Of = savedOn(p)
	var raw bytes.Buffer
	if err := f.Write(&raw, pl, asked); err != nil {
		s.trouble(c, err)
		return
	}
	attach(c, slug(p.Design.Name)+"-"+strings.TrimPrefix(name, "drawing-"), f.Media, raw.Bytes())
}

// savedOn is the day of a project's last change, by the clock of its place where that is known.
func savedOn(p store.Project) string {
	at, err := time.Parse(time.RFC3339, p.Updated)
	if err != nil {
		return ""
	}
	if zone, err := time.LoadLocation(p.Design.CalendarOr().Zone); err == nil {
		at = at.In(zone)
	}
	return at.Format("2 January 2006")
}

func attach(c *gin.Context, file, kind string, raw []byte) {
	reckoned(c)
	c.Header("Content-Disposition", fmt.Sprintf("attachment; filename=%q", file))
	c.Data(http.StatusOK, kind, raw)
}

// projectFile hands a project over with all that its plan needs: its design, the boards
// of the shed it counts on, the workshop's habits, and what longer searches came to.
// One that cannot be planned is handed over without the boards.
func (s *Server) projectFile(c *gin.Context) {
	p, shop, ok := s.project(c)
	if !ok {
		return
	}
	file := export.Project{Design: p.Design, Habits: &shop.Habits}
	var pl *plan.Plan
	if err := planned(func() (err error) { pl, err = plan.Make(p.Design, shop); return err }); err == nil {
		file.Shed, file.Found = pl.CountedOn(), s.found(pl)
	}
	took, err := s.takingsOf(c.Request.Context(), p.ID)
	if err != nil {
		s.trouble(c, err)
		return
	}
	file.Took = took
	goods, err1 := s.store.Goods(asked(c), p.ID)
	sizes, err2 := s.store.Sizes(asked(c), p.ID)
	photos, err3 := s.photosInFile(asked(c), p.ID)
	if err := errors.Join(err1, err2, err3); err != nil {
		s.trouble(c, err)
		return
	}
	file.Goods, file.Sizes, file.Photos = goodsOf(goods), sizesOf(sizes), photos
	raw, err := file.Encode()
	if err != nil {
		s.trouble(c, err)
		return
	}
	attach(c, slug(p.Design.Name)+".chamfer.json", "application/json", raw)
}

// slug makes a file name of a project's name.
func slug(name string) string { return cmpOr(catalog.Slug(name), "bed") }

// schema serves a JSON Schema.
func schema(raw []byte) gin.HandlerFunc {
	return func(c *gin.Context) { c.Data(http.StatusOK, "application/schema+json", raw) }
}

// OtherPaper is the size of sheet that the region does not use.
func (b *benchPage) OtherPaper() string {
	if export.UsualPaper(b.Plan) == sheets.A4 {
		return string(sheets.Letter)
	}
	return string(sheets.A4)
}
