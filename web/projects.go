package web

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"html/template"
	"io"
	"net/http"
	"net/url"
	"regexp"
	"slices"
	"strconv"
	"strings"
	"time"

	"github.com/gin-gonic/gin"

	"chamfer/core/catalog"
	"chamfer/core/design"
	"chamfer/core/measure"
	"chamfer/core/plan"
	"chamfer/export"
	"chamfer/people"
	"chamfer/store"
)

// perPage is how many projects the list shows at once.
const perPage = 24

// projectCard is a project in the list: what was kept of it when it was saved.
type projectCard struct {
	cardBody
	ID       int64
	Rev      int64
	Name     string
	Link     string
	Drawing  template.HTML
	Trouble  string // why it cannot be shown
	Damaged  bool
	RenameAs string
	Note     string
	Deleted  string // when
}

type projectsPage struct {
	Title   string
	V       visitor
	House   string // its name, where there is more than one or somebody has an account
	Designs bool   // this visitor may begin a project here
	Keeps   bool   // and delete one
	Cards   []projectCard
	More    string // address of the next page of the list
	Find    string // what was looked for
	ByName  bool   // in the order of names, not the last touched first
	Paged   bool   // this is not the beginning
	Deleted *projectCard
	New     newForm
	Regions []*catalog.Catalog
	Systems []design.System
	Beds    []bedOf
	Import  string // why an import was refused
	Notice  string // what went wrong, above everything
	Errors  map[string]string
}

// newForm is the form that starts a project, by its area: as typed.
type newForm struct {
	Name   string `form:"name" binding:"max=200"`
	Region string `form:"region" binding:"max=20"`
	Length string `form:"length" binding:"max=80"`
	Width  string `form:"width" binding:"max=80"`
	Soil   string `form:"soil" binding:"max=80"`
	Area   string `form:"area" binding:"max=80"`
	System string `form:"system" binding:"max=40"`
	Copy   string `form:"copy" binding:"max=40"` // "7:b2", a bed of another project
	Say    string `form:"say" binding:"max=500"` // all of it in one sentence
}

// newFields are those of it that say why they were refused.
var newFields = []string{"name", "length", "width", "soil", "area", "system", "copy", "say"}

// bedOf is a bed that can be taken over into a new project.
type bedOf struct{ Value, Name string }

func (s *Server) projects(c *gin.Context) {
	s.projectList(c, http.StatusOK, projectsPage{New: newForm{Region: "us"}})
}

// projectList shows a page of the list of projects; page carries what was typed and
// refused.
func (s *Server) projectList(c *gin.Context, status int, page projectsPage) {
	page.Title, page.Regions, page.Systems = "Projects", catalog.Regions(), design.Systems()
	page.V = visitorOf(c)
	page.Designs, page.Keeps = page.V.Role.May(people.Design), page.V.Role.May(people.Keep)
	if !page.V.Free {
		var err error
		if page.House, err = s.store.HouseholdName(asked(c), page.V.Household); err != nil {
			s.trouble(c, err)
			return
		}
	}
	if page.New.System == "" {
		page.New.System = page.Systems[0].Name
	}
	page.Find = strings.TrimSpace(c.Query("find"))
	if len(page.Find) > 200 {
		page.Find = page.Find[:200]
	}
	after := afterOf(c)
	page.Paged = after != (store.After{})
	page.ByName = c.Query("by") == "name"
	read := s.store.List
	if page.ByName {
		read = s.store.ListByName
	}
	list, err := read(asked(c), scopeOf(c), after, page.Find, perPage+1)
	if err != nil {
		s.trouble(c, err)
		return
	}
	if len(list) > perPage {
		list = list[:perPage]
		last := list[perPage-1]
		page.More = "/?" + moreOf(last.Updated, last.ID, page.Find)
		if page.ByName {
			page.More = "/?by=name&" + moreOf(last.Name, last.ID, page.Find)
		}
	}
	for _, p := range list {
		card := s.card(asked(c), p)
		page.Cards = append(page.Cards, card)
		for _, b := range card.Beds {
			page.Beds = append(page.Beds, bedOf{fmt.Sprintf("%d:%s", p.ID, b.ID), card.Name + ", " + b.Name})
		}
	}
	if id, err := strconv.ParseInt(c.Query("deleted"), 10, 64); err == nil {
		if p, err := s.store.Standing(asked(c), id); err == nil && p.Deleted != nil && p.Household == page.V.Household &&
			page.Keeps {
			page.Deleted = &projectCard{ID: id, Name: p.Name}
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

// scopeOf is whose projects a visitor sees listed.
func scopeOf(c *gin.Context) store.Scope {
	v := visitorOf(c)
	of := store.Scope{Household: v.Household}
	if v.Role == people.Guest {
		of.Named = v.Account
	}
	return of
}

// afterOf reads where a page of a list goes on, "2026-05-01T09:00:00Z,17".
func afterOf(c *gin.Context) store.After {
	text := c.Query("after")
	i := strings.LastIndex(text, ",")
	if i < 0 {
		return store.After{}
	}
	id, err := strconv.ParseInt(text[i+1:], 10, 64)
	if err != nil {
		return store.After{}
	}
	return store.After{At: text[:i], ID: id}
}

func moreOf(at string, id int64, find string) string {
	q := url.Values{"after": {fmt.Sprintf("%s,%d", at, id)}}
	if find != "" {
		q.Set("find", find)
	}
	return q.Encode()
}

// deletedPage lists what was deleted and can be brought back.
type deletedPage struct {
	Title string
	Cards []projectCard
	More  string
}

func (s *Server) deleted(c *gin.Context) {
	list, err := s.store.DeletedProjects(asked(c), scopeOf(c), afterOf(c), perPage+1)
	if err != nil {
		s.trouble(c, err)
		return
	}
	page := deletedPage{Title: "Deleted projects"}
	if len(list) > perPage {
		list = list[:perPage]
		last := list[perPage-1]
		page.More = "/deleted?" + moreOf(*last.Deleted, last.ID, "")
	}
	for _, p := range list {
		card := projectCard{ID: p.ID, Name: p.Name, Deleted: *p.Deleted}
		if t, err := time.Parse(time.RFC3339, *p.Deleted); err == nil {
			card.Deleted = speechOf(c).Moment(t)
		}
		page.Cards = append(page.Cards, card)
	}
	s.show(c, http.StatusOK, "deleted.html", page)
}

// card is what the list shows of a project: what was kept, or where nothing was, what its
// plan comes to now, which is kept from then on. One that cannot be read or planned is
// listed as such.
func (s *Server) card(ctx context.Context, p store.Listed) projectCard {
	card := projectCard{ID: p.ID, Rev: p.Head, Name: p.Name, Link: fmt.Sprintf("/p/%d/bed", p.ID)}
	at, err := p.Read()
	if err != nil {
		card.Damaged, card.Trouble = true, "Its newest revision cannot be read."
		if card.Name == "" {
			card.Name = fmt.Sprintf("Project %d", p.ID)
		}
		return card
	}
	card.Name, card.Note = at.Design.Name, at.Design.Note
	if p.Card == nil || json.Unmarshal(p.Card, &card.cardBody) != nil {
		shop, _, err := s.shopFor(ctx, p.Household, at.Design.Region, p.ID)
		if err == nil {
			var pl *plan.Plan
			var kept store.Kept
			if pl, kept, err = s.admit(at.Design, shop); err == nil {
				card.cardBody = newCard(pl)
				if err := s.store.Keep(p.ID, p.Head, at.Design.Name, kept); err != nil {
					s.log.Warn("keep", "project", p.ID, "err", err)
				}
			}
		}
		if err != nil {
			card.Damaged, card.Trouble = true, sentence(reason(err))
		}
	}
	card.Drawing = template.HTML(card.Figure)
	return card
}

// start is the design a new project begins with: a copy of a bed there is, or a
// system's first bed in the size wanted.
func (s *Server) start(ctx context.Context, v visitor, f newForm, shop plan.Shop, name string) (design.Design, error) {
	if f.Copy != "" {
		project, bed, _ := strings.Cut(f.Copy, ":")
		id, _ := strconv.ParseInt(project, 10, 64)
		p, err := s.store.Project(ctx, id)
		role := people.Guest
		if err == nil {
			role, err = s.roleIn(ctx, v, p.Standing)
		}
		if err != nil || !role.May(people.Look) {
			return design.Design{}, &design.Refusal{
				Field:  "copy",
				Value:  f.Copy,
				Reason: "that bed is there no more; choose another, or none",
			}
		}
		return design.Taken(name, p.Design, bed)
	}
	d, err := design.NewOf(shop.Catalog, name, f.System)
	if err != nil {
		return d, &design.Refusal{Field: "system", Value: f.System, Reason: err.Error()}
	}
	bed := d.Beds[0].ID
	edits := []design.Edit{{Field: "name", Value: name}}
	length, width := f.Length, f.Width
	if strings.TrimSpace(f.Area) != "" {
		area, err := measure.ParseArea(f.Area, shop.Catalog.System)
		if err != nil {
			return d, &design.Refusal{Field: "area", Value: f.Area, Reason: err.Error()}
		}
		soil := d.Beds[0].Soil
		if typed, err := measure.Parse(f.Soil, shop.Catalog.System); err == nil {
			soil = typed
		}
		if strings.TrimSpace(length+width) == "" {
			d.OfArea(area, soil, shop.Catalog)
		} else {
			l, w := design.SizeFor(area, d.Beds[0].Access, shop.Catalog)
			length, width = cmpOr(length, l.String()), cmpOr(width, w.String())
		}
	}
	for _, e := range []design.Edit{{Field: "length", Value: length}, {Field: "width", Value: width}, {Field: "soil",
		Value: f.Soil}} {
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
	err := c.ShouldBind(&f)
	if err == nil {
		_, err = catalog.ForRegion(f.Region)
	}
	if err != nil {
		s.projectList(
			c,
			http.StatusUnprocessableEntity,
			projectsPage{
				New: f,
				Errors: map[string]string{
					"name": "That form could not be read: choose one of the regions, and keep every entry short.",
				},
			},
		)
		return
	}
	shop, _, err := s.shopFor(asked(c), visitorOf(c).Household, f.Region, 0)
	if err != nil {
		s.trouble(c, err)
		return
	}
	name := strings.TrimSpace(f.Name)
	if name == "" {
		name = "New bed"
	}
	if said := strings.TrimSpace(f.Say); said != "" {
		s.createSaid(c, f, said, name)
		return
	}
	d, err := s.start(asked(c), visitorOf(c), f, shop, name)
	var kept store.Kept
	if err == nil {
		_, kept, err = s.admit(d, shop)
	}
	if err != nil {
		s.notBegun(c, f, err)
		return
	}
	id, err := s.store.Create(visitorOf(c).Household, d, "started", kept)
	if err != nil {
		s.trouble(c, err)
		return
	}
	c.Redirect(http.StatusSeeOther, fmt.Sprintf("/p/%d/bed", id))
}

// notBegun shows the list with what was typed and why it was refused.
func (s *Server) notBegun(c *gin.Context, f newForm, err error) {
	page := projectsPage{New: f, Errors: map[string]string{}}
	for _, r := range design.Refusals(err) {
		if !slices.Contains(newFields, r.Field) {
			page.Notice = strings.TrimSpace(page.Notice + " " + sentence(r.Reason))
			continue
		}
		page.Errors[r.Field] = r.Reason
	}
	if len(page.Errors) == 0 && page.Notice == "" {
		page.Notice = sentence(reason(err))
	}
	s.projectList(c, http.StatusUnprocessableEntity, page)
}

// metricWords are units by which a sentence is of the metric region, whichever was chosen.
var metricWords = regexp.MustCompile(`(?i)\d\s*(mm|cm|m|m2|m²|metres?|meters?|sq\.? m|square met)\b|m²`)

// createSaid starts a project from a sentence, and says on its page what was understood of it.
func (s *Server) createSaid(c *gin.Context, f newForm, said, name string) {
	if regionOf(f.Region).System != measure.Metric && metricWords.MatchString(said) {
		f.Region = "metric"
	}
	shop, _, err := s.shopFor(asked(c), visitorOf(c).Household, f.Region, 0)
	if err != nil {
		s.trouble(c, err)
		return
	}
	u, err := design.Understand(said, name, shop.Catalog)
	var kept store.Kept
	if err == nil {
		_, kept, err = s.admit(u.Design, shop)
	}
	if err != nil {
		s.notBegun(c, f, err)
		return
	}
	id, err := s.store.Create(visitorOf(c).Household, u.Design, "started: "+said, kept)
	if err != nil {
		s.trouble(c, err)
		return
	}
	c.Redirect(http.StatusSeeOther, fmt.Sprintf("/p/%d/bed?said=%s", id, url.QueryEscape(said)))
}

// importFile reads a design file into a new project. What is refused changes
// nothing.
func (s *Server) importFile(c *gin.Context) {
	file, err := readUpload(c)
	var kept store.Kept
	var photos []store.Photo
	if err == nil {
		photos, err = photosFrom(file.Photos)
	}
	if err == nil {
		var shop plan.Shop
		if shop, _, err = s.shopFor(asked(c), visitorOf(c).Household, file.Design.Region, 0); err == nil {
			_, kept, err = s.admit(file.Design, shop)
		}
	}
	if err != nil {
		s.projectList(
			c,
			http.StatusUnprocessableEntity,
			projectsPage{New: newForm{Region: "us"}, Import: sentence(reason(err))},
		)
		return
	}
	label := "imported"
	if n := file.Boards(); n > 0 {
		label = fmt.Sprintf("imported; where it comes from it counts on %d boards of a shed, here on this one's", n)
	}
	id, err := s.store.Create(visitorOf(c).Household, file.Design, label, kept)
	if err == nil {
		err = s.store.Took(id, written(file.Took)...)
	}
	if err == nil {
		err = errors.Join(s.store.PutGoods(id, keptGoods(file.Goods)...), s.store.PutSizes(id, keptSizes(file.Sizes)),
			s.store.AddPhotos(id, photos...))
	}
	if err != nil {
		s.trouble(c, err)
		return
	}
	c.Redirect(http.StatusSeeOther, fmt.Sprintf("/p/%d/bed", id))
}

func readUpload(c *gin.Context) (d export.Project, err error) {
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
	return export.ReadProject(raw)
}

func (s *Server) duplicate(c *gin.Context) {
	p, shop, ok := s.project(c)
	if !ok {
		return
	}
	if v := visitorOf(c); !v.Free && (!v.Is() || !v.Role.May(people.Design)) {
		s.fault(c, http.StatusForbidden, "You have no beds of your own here to copy it to.",
			"Sign in to a household you own, then open the link again; or save its file, on the bill.")
		return
	}
	d, err := design.Apply(p.Design, shop.Catalog, design.Edit{Field: "name", Value: p.Design.Name + ", copy"})
	if err != nil { // the name grew too long: keep the old one
		d = p.Design
	}
	if shop, _, err = s.shopFor(asked(c), visitorOf(c).Household, d.Region,
		0); err != nil { // the boards it counts on are the first one's
		s.trouble(c, err)
		return
	}
	_, kept, err := s.admit(d, shop)
	if err != nil {
		s.mendPage(c, p.ID, err)
		return
	}
	if _, err := s.store.Create(visitorOf(c).Household, d, "copied from "+p.Design.Name, kept); err != nil {
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
	base, ok := s.revision(c)
	if !ok {
		return
	}
	name, edits := c.PostForm("name"), []design.Edit{{Field: "name", Value: c.PostForm("name")}}
	if note, given := c.GetPostForm("note"); given {
		edits = append(edits, design.Edit{Field: "note", Value: note})
	}
	refuse := func(status int, why string) {
		page := projectsPage{New: newForm{Region: "us"}, Errors: map[string]string{}}
		page.Errors[fmt.Sprintf("rename-%d", p.ID)] = why
		page.Errors[fmt.Sprintf("typed-%d", p.ID)] = name
		page.Errors[fmt.Sprintf("noted-%d", p.ID)] = c.PostForm("note")
		s.projectList(c, status, page)
	}
	d, err := design.Apply(p.Design, shop.Catalog, edits...)
	if err != nil {
		refuse(http.StatusUnprocessableEntity, reason(err))
		return
	}
	label := "name → " + d.Name
	if d.Name == p.Design.Name {
		label = "note → " + d.Note
	}
	if d.Name == p.Design.Name && d.Note == p.Design.Note {
		c.Redirect(http.StatusSeeOther, "/")
		return
	}
	_, kept, err := s.admit(d, shop)
	if err != nil {
		s.mendPage(c, p.ID, err)
		return
	}
	var conflict *store.Conflict
	kept.Edit = store.Edit{By: visitorOf(c).Account, Edits: edits}
	switch err := s.store.Save(p.ID, base, d, label, kept); {
	case errors.As(err, &conflict):
		refuse(
			http.StatusConflict,
			"the project was changed in another window since this page was shown; nothing was overwritten: press"+
				" again if it should be called that",
		)
	case err != nil:
		s.trouble(c, err)
	default:
		s.did(c, label)
		c.Redirect(http.StatusSeeOther, "/")
	}
}

func (s *Server) remove(c *gin.Context) {
	h, ok := s.head(c)
	if !ok {
		return
	}
	if err := s.store.Delete(h.ID); err != nil {
		s.trouble(c, err)
		return
	}
	c.Redirect(http.StatusSeeOther, fmt.Sprintf("/?deleted=%d", h.ID))
}

// purge deletes a project for good, at once.
func (s *Server) purge(c *gin.Context) {
	id, ok := s.id(c)
	if !ok {
		return
	}
	if h, err := s.store.Standing(asked(c), id); err == nil && h.Deleted == nil {
		s.fault(c, http.StatusConflict, "This project has not been deleted.",
			"Delete it first; then it can be deleted for good.")
		return
	}
	if err := s.store.Purge(id); err != nil {
		s.trouble(c, err)
		return
	}
	c.Redirect(http.StatusSeeOther, "/deleted")
}

func (s *Server) restore(c *gin.Context) {
	id, ok := s.id(c)
	if !ok {
		return
	}
	if err := s.store.Restore(id); err != nil {
		s.trouble(c, err)
		return
	}
	c.Redirect(http.StatusSeeOther, "/")
}
