package web

import (
	"errors"
	"fmt"
	"html/template"
	"net/http"
	"strconv"
	"time"

	"github.com/gin-gonic/gin"

	"chamfer/people"
	"chamfer/store"
)

// sharePage is who may come to one project, and by which links.
type sharePage struct {
	Title, Name string
	ID          int64
	Free        bool
	Links       []linkLine
	Members     []memberLine
	Roles       []people.Role
	Ends        []endChoice
	Made        string // address of a link that was just made
	What        string // it is for
	Code        template.HTML
	Alone       bool // only this machine can open it
	Plain       bool // a phone would open it without https
	Said        string
}

type memberLine struct {
	store.Member
	Owns bool        // as an owner of the household
	In   people.Role // in this project; "" where it says nothing
	Now  people.Role
}

type endChoice struct{ Value, Label string }

var ends = []endChoice{{"1", "a day"}, {"7", "a week"}, {"30", "a month"}, {"365", "a year"}}

// purposes of a share link, in the role each gives. Copying needs no more than looking: whoever can look can save the
// project's file.
var purposes = map[string]people.Role{"read": people.Reader, "build": people.Helper, copyPurpose: people.Reader}

// copyPurpose is that of a link by which a project is taken over into beds of one's own.
const copyPurpose = "copy"

func (s *Server) sharing(c *gin.Context) { s.sharingShown(c, http.StatusOK, sharePage{}) }

func (s *Server) sharingShown(c *gin.Context, status int, p sharePage) {
	h, ok := s.head(c)
	if !ok {
		return
	}
	p.Title, p.Name, p.ID, p.Free, p.Ends = "Share “"+h.Name+"”", h.Name, h.ID, visitorOf(c).Free, ends
	p.Roles = []people.Role{people.Owner, people.Helper, people.Reader, people.Guest}
	p.Plain = !s.overHTTPS(c.Request)
	list, err := s.store.Links(asked(c), 0, h.ID)
	for _, l := range list {
		what := map[store.Kind]string{store.Share: "to " + l.Note, store.Invite: "invitation for a guest",
			store.Phone: "a phone, once"}[l.Kind]
		if l.Kind == store.Invite {
			what += " as " + l.Note
		}
		p.Links = append(p.Links, linkLine{ID: l.ID, What: what, Until: day(l.Expires), Opened: l.Opened})
	}
	var all, named []store.Member
	if err == nil {
		all, err = s.store.Members(asked(c), h.Household)
	}
	if err == nil {
		named, err = s.store.Named(asked(c), h.ID)
	}
	if err != nil {
		s.trouble(c, err)
		return
	}
	for _, m := range all {
		line := memberLine{Member: m, Owns: m.Role == people.Owner}
		for _, n := range named {
			if n.Account == m.Account {
				line.In = n.Role
			}
		}
		line.Now = people.Of(m.Role, line.In)
		p.Members = append(p.Members, line)
	}
	s.show(c, status, "share.html", p)
}

// alone reports whether an address is of this machine for itself.
func alone(at string) bool { return WayIn{Addresses: []string{at}}.elsewhere() == "" }

// share makes a link to a project.
func (s *Server) share(c *gin.Context) {
	h, ok := s.head(c)
	if !ok {
		return
	}
	v := visitorOf(c)
	what := c.PostForm("what")
	days, err := strconv.Atoi(c.PostForm("days"))
	role, known := purposes[what]
	if v.Free || err != nil || days < 1 || days > 366 || !known && what != "guest" {
		s.fault(c, http.StatusBadRequest, "That is no link to a project.",
			"It is to read, to build or to copy, and lasts from a day to a year. Go back and choose.")
		return
	}
	id, by, household := h.ID, v.Account, h.Household
	l := store.Link{Kind: store.Share, Project: &id, By: &by, Role: role, Note: what}
	if what == "guest" {
		in := people.Role(c.PostForm("role"))
		if !in.Valid() || in == people.Guest {
			s.fault(c, http.StatusBadRequest, "There is no such role in a project.", "Owner, helper and reader are the roles.")
			return
		}
		l = store.Link{Kind: store.Invite, Project: &id, Household: &household, By: &by, Role: people.Guest,
			Note: string(in), Once: true}
	}
	secret, err := s.store.MakeLink(l, time.Duration(days)*24*time.Hour)
	if err != nil {
		s.trouble(c, err)
		return
	}
	at := s.at(c, "/in/"+secret)
	s.sharingShown(c, http.StatusOK, sharePage{Made: at, What: what, Code: drawn(at), Alone: alone(at)})
}

// endShare takes a link back: whoever came by it is out at once.
func (s *Server) endShare(c *gin.Context) {
	h, ok := s.head(c)
	if !ok {
		return
	}
	id, _ := strconv.ParseInt(c.PostForm("link"), 10, 64)
	if err := s.store.EndLink(id, 0, h.ID); err != nil {
		s.trouble(c, err)
		return
	}
	s.live.check()
	c.Redirect(http.StatusSeeOther, fmt.Sprintf("/p/%d/share", h.ID))
}

// setProjectRole gives somebody of the household a role of their own in a project.
func (s *Server) setProjectRole(c *gin.Context) {
	h, ok := s.head(c)
	if !ok {
		return
	}
	id, _ := strconv.ParseInt(c.PostForm("who"), 10, 64)
	role := people.Role(c.PostForm("role"))
	if role == "as" {
		role = ""
	} else if !role.Valid() {
		s.fault(c, http.StatusBadRequest, "There is no such role.", "Owner, helper, reader and guest are the roles.")
		return
	}
	if err := s.store.SetProjectRole(h.ID, id, role); err != nil && !errors.Is(err, store.ErrNobody) {
		s.trouble(c, err)
		return
	}
	s.live.check()
	c.Redirect(http.StatusSeeOther, fmt.Sprintf("/p/%d/share", h.ID))
}

// toPhone makes a link that works once, for five minutes, and signs a phone in to this project.
func (s *Server) toPhone(c *gin.Context) {
	h, ok := s.head(c)
	if !ok {
		return
	}
	v := visitorOf(c)
	if !v.Is() {
		s.signFirst(c, v)
		return
	}
	id, by := h.ID, v.Account
	secret, err := s.store.MakeLink(store.Link{Kind: store.Phone, Project: &id, Account: &by, By: &by, Once: true},
		phoneLasts)
	if err != nil {
		s.trouble(c, err)
		return
	}
	at := s.at(c, "/in/"+secret)
	page := sharePage{Title: "On your phone", Name: h.Name, ID: h.ID, Made: at, Code: drawn(at), What: "phone",
		Alone: alone(at), Plain: !s.overHTTPS(c.Request)}
	s.show(c, http.StatusOK, "share.html", page)
}
