package web

import (
	"context"
	"errors"
	"fmt"
	"net/http"
	"slices"
	"strings"
	"time"

	"github.com/gin-gonic/gin"

	"chamfer/people"
	"chamfer/store"
)

// How long links hold, and a phone that came in by one.
const (
	firstLasts   = 24 * time.Hour
	inviteLasts  = 7 * 24 * time.Hour
	recoverLasts = time.Hour
	phoneLasts   = 5 * time.Minute
	phoneSession = 12 * time.Hour
)

// FirstLink makes the way to the first account, "" where somebody has one, or the door asks for none.
func (s *Server) FirstLink() (string, error) {
	some, err := s.store.Guarded(context.Background())
	if err != nil || some || !s.door.Accounts {
		return "", err
	}
	secret, err := s.store.MakeLink(store.Link{Kind: store.First, Once: true}, firstLasts)
	return linkPath + secret, err
}

// linkPath is what the address of a link begins with.
const linkPath = "/in/"

// pathOf is the path of a request as it may be logged: a link's is a secret.
func pathOf(c *gin.Context) string {
	if strings.HasPrefix(c.Request.URL.Path, linkPath) {
		return linkPath + "…"
	}
	return c.Request.URL.Path
}

// linkPage says what a link is for, and asks what it needs.
type linkPage struct {
	Title, About, Press    string
	Account                bool // a name and a password make a new account
	Password               bool // a new password is wanted
	Name, NameError, Error string
	As                     string // who is signed in and may take it as themselves
	Plain                  bool
}

// linked finds the link of the address; where there is none that holds, it answers.
func (s *Server) linked(c *gin.Context) (store.Link, bool) {
	l, err := s.store.Link(asked(c), c.Param("secret"))
	switch {
	case errors.Is(err, store.ErrNoLink):
		s.fault(c, http.StatusNotFound, "This link opens nothing.",
			"It may have been used, taken back, or its time is up: ask whoever gave it to you for another.")
		return l, false
	case err != nil:
		s.trouble(c, err)
		return l, false
	}
	return l, true
}

func (s *Server) linkShown(c *gin.Context, status int, l store.Link, p linkPage) {
	p.Plain = !s.overHTTPS(c.Request) && !s.onThisMachine(c.Request)
	v := visitorOf(c)
	switch l.Kind {
	case store.First:
		p.Title, p.Press, p.Account = "The first account", "Make the account", true
		p.About = "From then on everybody signs in. It owns all the beds that are here already, and can invite others."
	case store.Invite:
		p.Title, p.Press, p.Account = "You are invited", "Come in", true
		name, err := s.store.HouseholdName(asked(c), *l.Household)
		if err != nil {
			s.trouble(c, err)
			return
		}
		p.About = fmt.Sprintf("“%s” takes you in as its %s: who %s.", name, l.Role, l.Role.About())
		if l.Project != nil {
			role := people.Role(l.Note)
			p.About = fmt.Sprintf("“%s” takes you into one project as its %s: who %s.", name, role, role.About())
		}
		if v.Is() {
			p.As = v.Name
		}
	case store.Recover:
		a, err := s.store.Account(asked(c), *l.Account)
		if err != nil {
			s.trouble(c, err)
			return
		}
		p.Title, p.Press, p.Password = "A new password", "Set the password", true
		p.About = "For " + a.Name + ". Everywhere else it is then signed out."
	case store.Share:
		p.Title, p.Press = "A project, to look at", "Open it"
		p.About = "This browser may then look at it, and save its files, until the link ends."
		if l.Note == copyPurpose {
			p.Title = "A project, to copy"
			p.About = "This browser may then look at it, and take a copy to beds of your own, until the link ends."
		}
		if l.Role == people.Helper {
			p.Title = "A project, to build"
			p.About = "This browser may then look at it, tick its steps, cut its boards and write down prices, until the link" +
				" ends."
		}
	case store.Phone:
		p.Title, p.Press = "One project, on this phone", "Open it"
		p.About = "For twelve hours. The link works once."
	}
	s.show(c, status, "in.html", p)
}

func (s *Server) inLink(c *gin.Context) {
	if l, ok := s.linked(c); ok {
		s.linkShown(c, http.StatusOK, l, linkPage{})
	}
}

// takeLink does what a link is for. It is a form that is sent, so that nothing that only looks at addresses uses
// one up.
func (s *Server) takeLink(c *gin.Context) {
	l, ok := s.linked(c)
	if !ok {
		return
	}
	var err error
	switch l.Kind {
	case store.First, store.Invite:
		s.join(c, l)
		return
	case store.Recover:
		a, err := s.store.Account(asked(c), *l.Account)
		if err != nil {
			s.trouble(c, err)
			return
		}
		hash, ok := s.newPassword(c, l, linkPage{}, a.Name)
		if !ok {
			return
		}
		if err := s.store.Recover(l, hash); err != nil {
			s.notLinked(c, err)
			return
		}
		s.live.check()
		s.entered(c, a, "/")
		return
	case store.Share:
		if err = s.store.OpenLink(l); err == nil {
			ctx, m := c.Request.Context(), s.sessionsOf(c.Request)
			if m.GetInt64(ctx, keySignin) == 0 {
				err = m.RenewToken(ctx)
			}
			shares, _ := m.Get(ctx, keyShares).([]int64)
			if !slices.Contains(shares, l.ID) {
				m.Put(ctx, keyShares, append(shares[max(0, len(shares)-20):], l.ID))
			}
		}
	case store.Phone:
		if err = s.store.OpenLink(l); err == nil {
			err = s.enter(c, *l.Account, *l.Project, phoneSession)
		}
	}
	if err != nil {
		s.notLinked(c, err)
		return
	}
	stage := "bed"
	if l.Role == people.Helper || l.Kind == store.Phone {
		stage = "build"
	}
	c.Redirect(http.StatusSeeOther, fmt.Sprintf("/p/%d/%s", *l.Project, stage))
}

// notLinked answers where a link could not be taken: it may have been taken by another just now.
func (s *Server) notLinked(c *gin.Context, err error) {
	if errors.Is(err, store.ErrNoLink) {
		s.fault(c, http.StatusGone, "This link opens nothing any more.", "Ask whoever gave it to you for another.")
		return
	}
	s.trouble(c, err)
}

// newPassword reads a password that is typed twice; what will not do is said on the page of the link.
func (s *Server) newPassword(c *gin.Context, l store.Link, p linkPage, name string) (hash string, ok bool) {
	password := c.PostForm("password")
	err := people.Password(password, name)
	if err == nil && password != c.PostForm("again") {
		err = errors.New("the two are not the same: type it once more")
	}
	if err != nil {
		p.Error = sentence(err.Error())
		s.linkShown(c, http.StatusUnprocessableEntity, l, p)
		return "", false
	}
	if hash, err = people.Hash(password); err != nil {
		s.trouble(c, err)
		return "", false
	}
	return hash, true
}

// join makes an account, or takes the one that is signed in, into a household.
func (s *Server) join(c *gin.Context, l store.Link) {
	v := visitorOf(c)
	if v.Is() && l.Kind == store.Invite && c.PostForm("as") == "me" {
		if _, err := s.store.Join(l, v.Account, "", ""); err != nil {
			s.notLinked(c, err)
			return
		}
		s.sessionsOf(c.Request).Put(c.Request.Context(), keyHousehold, *l.Household)
		c.Redirect(http.StatusSeeOther, "/")
		return
	}
	p := linkPage{Name: clipped(c.PostForm("name"))}
	name, err := people.Name(c.PostForm("name"))
	if err != nil {
		p.NameError = sentence(err.Error())
		s.linkShown(c, http.StatusUnprocessableEntity, l, p)
		return
	}
	hash, ok := s.newPassword(c, l, p, name)
	if !ok {
		return
	}
	id, err := s.store.Join(l, 0, name, hash)
	if errors.Is(err, store.ErrNameTaken) {
		p.NameError = "Somebody signs in with that name already: another works, or sign in first if it is yours."
		s.linkShown(c, http.StatusUnprocessableEntity, l, p)
		return
	}
	if err != nil {
		s.notLinked(c, err)
		return
	}
	s.live.check()
	s.entered(c, store.Account{ID: id, Name: name}, "/")
}
