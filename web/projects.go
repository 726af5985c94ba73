package web

import (
	"errors"
	"fmt"
	"html/template"
	"io"
	"net/http"
	"strconv"
	"strings"

	"github.com/gin-gonic/gin"

	"chamfer/core/catalog"
	"chamfer/core/design"
	"chamfer/core/measure"
	"chamfer/core/plan"
	"chamfer/draw"
	"chamfer/export"
)

type projectCard struct {
	ID       int64
	Name     string
	Region   string
	Size     string
	Total    string
	Open     int // findings
	Link     string
	Figure   template.HTML
	Trouble  string
	RenameAs string
	Error    string
}

type projectsPage struct {
	Title   string
	Cards   []projectCard
	Deleted *projectCard
	New     newForm
	Regions []*catalog.Catalog
	Systems []design.System
	Beds    []bedOf
	Import  string // why an import was refused
	Errors  map[string]string
	Said    string
}

// newForm is the form that starts a project, by its area: as typed.
type newForm struct {
	Name   string `form:"name" binding:"max=200"`
	Region string `form:"region" binding:"oneof=us metric"`
	Length string `form:"length" binding:"max=80"`
	Width  string `form:"width" binding:"max=80"`
	Soil   string `form:"soil" binding:"max=80"`
	Area   string `form:"area" binding:"max=80"`
	System string `form:"system" binding:"max=40"`
	Copy   string `form:"copy" binding:"max=40"` // "7:b2", a bed of another project
}

// bedOf is a bed that can be taken over into a new project.
type bedOf struct{ Value, Name string }

func (s *Server) projects(c *gin.Context) {
	s.projectList(c, http.StatusOK, projectsPage{New: newForm{Region: "us"}})
}

// projectList shows the list of projects; page carries what was typed and
// refused.
func (s *Server) projectList(c *gin.Context, status int, page projectsPage) {
	page.Title, page.Regions, page.Systems = "Projects", catalog.Regions(), design.Systems()
	if page.New.System == "" {
		page.New.System = page.Systems[0].Name
	}
	list, err := s.store.Projects()
	if err != nil {
		s.trouble(c, err)
		return
	}
	for _, p := range list {
		page.Cards = append(page.Cards, s.card(p.ID, p.Design))
		for _, b := range p.Design.Beds {
			page.Beds = append(page.Beds, bedOf{fmt.Sprintf("%d:%s", p.ID, b.ID), p.Design.Name + ", " + b.Name})
		}
	}
	if id, err := strconv.ParseInt(c.Query("deleted"), 10, 64); err == nil {
		if p, err := s.store.Project(id); err == nil && p.Deleted != nil {
			page.Deleted = &projectCard{ID: id, Name: p.Design.Name}
		}
	}
	if id := c.Query("rename"); id != "" {
		for i := range page.Cards {
			if strconv.FormatInt(page.Cards[i].ID, 10) == id {
				page.Cards[i].RenameAs = page.Cards[i].Name
			}
		}
	}
	s.show(c, status, "projects.html", page)
}

func (s *Server) card(id int64, d design.Design) projectCard {
	card := projectCard{ID: id, Name: d.Name, Region: regionName(d.Region), Link: fmt.Sprintf("/p/%d/bed", id)}
	shop, err := s.shop(d.Region)
	if err != nil {
		card.Trouble = err.Error()
		return card
	}
	p, err := plan.Make(d, shop)
	if err != nil {
		card.Trouble = reason(err)
		return card
	}
	b := d.Beds[0]
	pr := shop.Precision()
	card.Size = fmt.Sprintf("%s × %s, %s of soil", pr.Feet(b.Length), pr.Feet(b.Width), pr.Feet(b.Soil))
	sheet := draw.Sheet{W: 250, H: 150, Font: 12, Plain: true}
	card.Figure = template.HTML(draw.Bed(p, "", draw.Solid, sheet))
	if times := len(p.Site.Stands) + p.Site.More; times > 1 {
		names := make([]string, len(d.Beds))
		for i, b := range d.Beds {
			names[i] = b.Name
			if b.Times() > 1 {
				names[i] = fmt.Sprintf("%d × %s", b.Times(), b.Name)
			}
		}
		card.Size = fmt.Sprintf("%d beds: %s", times, strings.Join(names, ", "))
		card.Figure = template.HTML(draw.Plot(p, sheet))
	}
	card.Total = shop.Currency().Format(p.Bill.Total)
	for _, f := range p.Findings {
		if !f.Kept {
			card.Open++
		}
	}
	return card
}

// start is the design a new project begins with: a copy of a bed there is, or a
// system's first bed in the size wanted.
func (s *Server) start(f newForm, shop plan.Shop, name string) (design.Design, error) {
	if f.Copy != "" {
		project, bed, _ := strings.Cut(f.Copy, ":")
		id, _ := strconv.ParseInt(project, 10, 64)
		p, err := s.store.Project(id)
		if err != nil {
			return design.Design{}, &design.Refusal{Field: "copy", Value: f.Copy, Reason: "that bed is there no more; choose another, or none"}
		}
		return design.Taken(name, p.Design, bed)
	}
	d := design.New(shop.Catalog, name)
	bed := d.Beds[0].ID
	edits := []design.Edit{{Field: "name", Value: name}, {Bed: bed, Field: "system", Value: cmpOr(f.System, d.Beds[0].System)}}
	length, width := f.Length, f.Width
	if strings.TrimSpace(f.Area) != "" {
		area, err := measure.ParseArea(f.Area, shop.Catalog.System)
		if err != nil {
			return d, &design.Refusal{Field: "area", Value: f.Area, Reason: err.Error()}
		}
		l, w := design.SizeFor(area, shop.Catalog)
		length, width = cmpOr(length, l.String()), cmpOr(width, w.String())
	}
	for _, e := range []design.Edit{{Field: "length", Value: length}, {Field: "width", Value: width}, {Field: "soil", Value: f.Soil}} {
		if strings.TrimSpace(e.Value) != "" {
			e.Bed = bed
			edits = append(edits, e)
		}
	}
	return design.Apply(d, shop.Catalog, edits...)
}

// create starts a project from the area wanted, a way of building, or a bed
// there is.
func (s *Server) create(c *gin.Context) {
	var f newForm
	if err := c.ShouldBind(&f); err != nil {
		s.projectList(c, http.StatusUnprocessableEntity, projectsPage{New: f, Errors: map[string]string{"name": "That form could not be read: choose one of the two regions, and keep every entry short."}})
		return
	}
	shop, err := s.shop(f.Region)
	if err != nil {
		s.trouble(c, err)
		return
	}
	name := strings.TrimSpace(f.Name)
	if name == "" {
		name = "New bed"
	}
	d, err := s.start(f, shop, name)
	if err != nil {
		page := projectsPage{New: f, Errors: map[string]string{}}
		for _, r := range design.Refusals(err) {
			page.Errors[r.Field] = r.Reason
		}
		s.projectList(c, http.StatusUnprocessableEntity, page)
		return
	}
	id, err := s.store.Create(d, "started")
	if err != nil {
		s.trouble(c, err)
		return
	}
	c.Redirect(http.StatusSeeOther, fmt.Sprintf("/p/%d/bed", id))
}

// importFile reads a design file into a new project. What is refused changes
// nothing.
func (s *Server) importFile(c *gin.Context) {
	c.Request.Body = http.MaxBytesReader(c.Writer, c.Request.Body, export.MaxFile+64<<10)
	d, err := readUpload(c)
	if err != nil {
		s.projectList(c, http.StatusUnprocessableEntity, projectsPage{New: newForm{Region: "us"}, Import: err.Error()})
		return
	}
	id, err := s.store.Create(d, "imported")
	if err != nil {
		s.trouble(c, err)
		return
	}
	c.Redirect(http.StatusSeeOther, fmt.Sprintf("/p/%d/bed", id))
}

func readUpload(c *gin.Context) (d design.Design, err error) {
	file, _, err := c.Request.FormFile("file")
	var large *http.MaxBytesError
	switch {
	case errors.As(err, &large):
		return d, export.ErrTooLarge
	case err != nil:
		return d, errors.New("no file was chosen; choose one that ends in .chamfer.json")
	}
	defer func() { err = errors.Join(err, file.Close()) }()
	raw, err := io.ReadAll(io.LimitReader(file, export.MaxFile+1))
	if err != nil {
		return d, errors.New("the file could not be read to its end")
	}
	return export.ReadDesign(raw)
}

func (s *Server) duplicate(c *gin.Context) {
	p, shop, ok := s.project(c)
	if !ok {
		return
	}
	name := p.Design.Name + ", copy"
	d, err := design.Apply(p.Design, shop.Catalog, design.Edit{Field: "name", Value: name})
	if err != nil { // the name grew too long: keep the old one
		d = p.Design
	}
	if _, err := s.store.Create(d, "copied from "+p.Design.Name); err != nil {
		s.trouble(c, err)
		return
	}
	c.Redirect(http.StatusSeeOther, "/")
}

// rename changes a project's name, from the list or from the bench.
func (s *Server) rename(c *gin.Context) {
	p, shop, ok := s.project(c)
	if !ok {
		return
	}
	name := c.PostForm("name")
	d, err := design.Apply(p.Design, shop.Catalog, design.Edit{Field: "name", Value: name})
	if err != nil {
		page := projectsPage{New: newForm{Region: "us"}, Errors: map[string]string{}}
		page.Errors[fmt.Sprintf("rename-%d", p.ID)] = reason(err)
		page.Errors[fmt.Sprintf("typed-%d", p.ID)] = name
		s.projectList(c, http.StatusUnprocessableEntity, page)
		return
	}
	if d.Name != p.Design.Name {
		if err := s.store.Save(p.ID, p.Head, d, "name → "+d.Name); err != nil {
			s.trouble(c, err)
			return
		}
	}
	c.Redirect(http.StatusSeeOther, "/")
}

func (s *Server) remove(c *gin.Context) {
	p, _, ok := s.project(c)
	if !ok {
		return
	}
	if err := s.store.Delete(p.ID); err != nil {
		s.trouble(c, err)
		return
	}
	c.Redirect(http.StatusSeeOther, fmt.Sprintf("/?deleted=%d", p.ID))
}

func (s *Server) restore(c *gin.Context) {
	p, _, ok := s.project(c)
	if !ok {
		return
	}
	if err := s.store.Restore(p.ID); err != nil {
		s.trouble(c, err)
		return
	}
	c.Redirect(http.StatusSeeOther, "/")
}

// file serves a project in an open format.
func (s *Server) file(c *gin.Context) {
	p, pl, ok := s.planned(c)
	if !ok {
		return
	}
	var err error
	base := slug(p.Design.Name)
	name := c.Param("file")
	attach := func(file, kind string) {
		c.Header("Content-Disposition", fmt.Sprintf("attachment; filename=%q", file))
		c.Header("Content-Type", kind)
	}
	switch {
	case name == "project.chamfer.json":
		raw, err := p.Design.Encode()
		if err != nil {
			s.trouble(c, err)
			return
		}
		attach(base+".chamfer.json", "application/json")
		_, _ = c.Writer.Write(raw)
	case name == "plan.json":
		attach(base+"-plan.json", "application/json")
		err = export.WritePlan(c.Writer, pl)
	case name == "cut-list.csv":
		attach(base+"-cut-list.csv", "text/csv; charset=utf-8")
		err = export.WriteCutList(c.Writer, pl)
	case name == "shopping-list.csv":
		attach(base+"-shopping-list.csv", "text/csv; charset=utf-8")
		err = export.WriteShopping(c.Writer, pl)
	case name == "plot.svg":
		attach(base+"-plot.svg", "image/svg+xml")
		_, _ = io.WriteString(c.Writer, draw.Plot(pl, draw.Sheet{W: 1120, H: 790, Font: 20, Own: true}))
	case strings.HasPrefix(name, "drawing-") && strings.HasSuffix(name, ".svg"):
		v := draw.ParseView(strings.TrimSuffix(strings.TrimPrefix(name, "drawing-"), ".svg"))
		attach(base+"-"+string(v)+".svg", "image/svg+xml")
		_, _ = io.WriteString(c.Writer, draw.Bed(pl, c.Query("bed"), v, draw.Sheet{W: 1120, H: 790, Font: 20, Own: true}))
	default:
		s.fault(c, http.StatusNotFound, "There is no such file.", "The bill and the cut sheet link to every file a project has.")
	}
	if err != nil {
		s.log.Error("file", "name", name, "err", err)
	}
}

// slug makes a file name of a project's name.
func slug(name string) string {
	s := strings.Map(func(r rune) rune {
		switch {
		case r >= 'a' && r <= 'z', r >= '0' && r <= '9':
			return r
		case r >= 'A' && r <= 'Z':
			return r + 'a' - 'A'
		}
		return '-'
	}, name)
	for strings.Contains(s, "--") {
		s = strings.ReplaceAll(s, "--", "-")
	}
	return cmpOr(strings.Trim(s, "-"), "bed")
}

func (s *Server) schema(c *gin.Context) {
	c.Data(http.StatusOK, "application/schema+json", export.Schema)
}
