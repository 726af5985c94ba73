package web

import (
	"errors"
	"fmt"
	"net/http"
	"strconv"
	"strings"
	"time"

	"github.com/gin-gonic/gin"

	"chamfer/people"
	"chamfer/store"
)

// peoplePage is who is in a household, and who may come.
type peoplePage struct {
	Title      string
	V          visitor
	Here       bool // at the machine itself
	Household  string
	Households []store.Household
	Members    []store.Member
	Invites    []linkLine
	Roles      []people.Role
	Alone      bool   // only this machine can open that
	Made       string // address of an invitation that was just made
	Keeps      bool
	Said       string
}

// linkLine is a link that holds, told.
type linkLine struct {
	ID                     int64
	What, Note, Until, For string
	Opened                 int
}

func (s *Server) people(c *gin.Context) { s.peopleShown(c, http.StatusOK, "", "") }

func (s *Server) peopleShown(c *gin.Context, status int, made, said string) {
	v := visitorOf(c)
	p := peoplePage{Title: "Who may come in", V: v, Here: s.onThisMachine(c.Request), Made: made, Alone: made != "" &&
		alone(made), Said: said,
		Roles: people.Roles, Keeps: v.Role.May(people.Keep)}
	if !v.Free {
		var err error
		if p.Household, err = s.store.HouseholdName(asked(c), v.Household); err == nil {
			p.Households, err = s.store.Households(asked(c), v.Account)
		}
		if err == nil && v.Role != people.Guest && v.Household != 0 {
			p.Members, err = s.store.Members(asked(c), v.Household)
		}
		if err == nil && p.Keeps {
			var list []store.Link
			list, err = s.store.Links(asked(c), v.Household, 0)
			for _, l := range list {
				p.Invites = append(p.Invites, linkLine{ID: l.ID, What: string(l.Role), Note: l.Note,
					Until: day(l.Expires), For: l.Note})
			}
		}
		if err != nil {
			s.trouble(c, err)
			return
		}
	}
	s.show(c, status, "people.html", p)
}

// day is a moment as people say its day.
func day(at string) string {
	t, err := time.Parse(time.RFC3339, at)
	if err != nil {
		return at
	}
	return t.Format("2 January 2006")
}

// makeFirst leads to the first account, from the machine itself.
func (s *Server) makeFirst(c *gin.Context) {
	if !visitorOf(c).Free || !s.onThisMachine(c.Request) {
		s.fault(c, http.StatusForbidden, "The first account is made at the machine itself.",
			"Open this page there, or run “chamfer people first” on it.")
		return
	}
	secret, err := s.store.MakeLink(store.Link{Kind: store.First, Once: true}, firstLasts)
	if err != nil {
		s.trouble(c, err)
		return
	}
	c.Redirect(http.StatusSeeOther, "/in/"+secret)
}

// at is the address of a page here, as another device opens it.
func (s *Server) at(c *gin.Context, path string) string {
	if base := s.way.elsewhere(); base != "" && s.onThisMachine(c.Request) {
		return base + path
	}
	scheme := "http://"
	if s.overHTTPS(c.Request) {
		scheme = "https://"
	}
	return scheme + c.Request.Host + path
}

// invite makes an invitation to the household.
func (s *Server) invite(c *gin.Context) {
	v := visitorOf(c)
	role := people.Role(c.PostForm("role"))
	if !role.Valid() || v.Free {
		s.fault(c, http.StatusBadRequest, "There is no such role.", "Owner, helper, reader and guest are the roles.")
		return
	}
	household, by := v.Household, v.Account
	secret, err := s.store.MakeLink(store.Link{Kind: store.Invite, Household: &household, By: &by, Role: role, Once: true,
		Note: said(c.PostForm("note"), "somebody")}, inviteLasts)
	if err != nil {
		s.trouble(c, err)
		return
	}
	s.peopleShown(c, http.StatusOK, s.at(c, "/in/"+secret), "")
}

// endInvite takes an invitation back.
func (s *Server) endInvite(c *gin.Context) {
	id, _ := strconv.ParseInt(c.PostForm("link"), 10, 64)
	if err := s.store.EndLink(id, visitorOf(c).Household, 0); err != nil {
		s.trouble(c, err)
		return
	}
	c.Redirect(http.StatusSeeOther, "/people")
}

// setRole changes what a member is, or takes them out.
func (s *Server) setRole(c *gin.Context) {
	id, _ := strconv.ParseInt(c.PostForm("who"), 10, 64)
	role := people.Role(c.PostForm("role"))
	if role == "out" {
		role = ""
	} else if !role.Valid() {
		s.fault(c, http.StatusBadRequest, "There is no such role.", "Owner, helper, reader and guest are the roles.")
		return
	}
	err := s.store.SetRole(visitorOf(c).Household, id, role)
	switch {
	case errors.Is(err, store.ErrLastOwner):
		s.peopleShown(c, http.StatusConflict, "", "A household keeps one owner: make somebody else an owner first.")
		return
	case errors.Is(err, store.ErrNobody):
		s.peopleShown(c, http.StatusNotFound, "", "Nobody of that number is in this household any more.")
		return
	case err != nil:
		s.trouble(c, err)
		return
	}
	s.live.check()
	c.Redirect(http.StatusSeeOther, "/people")
}

// household renames the household, begins another, or goes to one the account is in.
func (s *Server) household(c *gin.Context) {
	v, ctx := visitorOf(c), c.Request.Context()
	name := strings.TrimSpace(said(c.PostForm("name"), " "))
	var err error
	switch how := c.PostForm("how"); how {
	case "go":
		id, _ := strconv.ParseInt(c.PostForm("household"), 10, 64)
		s.sessionsOf(c.Request).Put(ctx, keyHousehold, id) // one they are not in is passed over
	case "rename", "begin":
		if name == "" || len([]rune(name)) > people.LongName {
			s.peopleShown(c, http.StatusUnprocessableEntity, "", fmt.Sprintf("A household has a name of up to %d characters.",
				people.LongName))
			return
		}
		if how == "rename" {
			if !v.Role.May(people.Keep) {
				s.barred(c, v.Role, people.Keep)
				return
			}
			err = s.store.RenameHousehold(v.Household, name)
			break
		}
		var id int64
		if id, err = s.store.FoundHousehold(name, v.Account); err == nil {
			s.sessionsOf(c.Request).Put(ctx, keyHousehold, id)
		}
	default:
		s.fault(c, http.StatusBadRequest, "That cannot be done with a household.", "It can be renamed, begun and gone to.")
		return
	}
	if err != nil {
		s.trouble(c, err)
		return
	}
	c.Redirect(http.StatusSeeOther, "/people")
}
