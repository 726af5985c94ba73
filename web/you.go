package web

import (
	"encoding/base64"
	"encoding/json"
	"errors"
	"net/http"
	"strconv"

	"github.com/gin-gonic/gin"

	"chamfer/people"
	"chamfer/store"
)

// youPage is what is kept about somebody, and what they may do about it.
type youPage struct {
	Title      string
	V          visitor
	Signins    []signinLine
	Passkeys   []passkeyLine
	NoPasskeys string // why this page cannot have one
	Happenings []happeningLine
	Households []store.Household
	Since      string
	Name       string
	Errors     map[string]string
	Said       string
}

type signinLine struct {
	ID                        int64
	Device, Since, Seen, Only string
	Now                       bool
}

type passkeyLine struct{ ID, Name, Host, Since string }

type happeningLine struct{ What, When string }

func (s *Server) you(c *gin.Context) { s.youShown(c, http.StatusOK, youPage{Said: c.Query("said")}) }

// saidOnce are the sentences an address may ask for.
var saidOnce = map[string]string{
	"password": "The password is set. Everywhere else you are signed out.",
	"out":      "Signed out there.",
	"name":     "You now sign in with that name.",
	"passkey":  "The passkey is kept.",
}

func (s *Server) youShown(c *gin.Context, status int, p youPage) {
	v := visitorOf(c)
	p.Title, p.V, p.Said = "Your account", v, saidOnce[p.Said]
	if p.Name == "" {
		p.Name = v.Name
	}
	p.NoPasskeys = noPasskeys(c.Request, s.overHTTPS(c.Request))
	k, err := s.keptAbout(c, v.Account)
	if err != nil {
		s.trouble(c, err)
		return
	}
	p.Since, p.Households = day(k.account.Created), k.Households
	for _, in := range k.Signins {
		line := signinLine{ID: in.ID, Device: in.Device, Since: day(in.Created), Seen: day(in.Seen), Now: in.ID == v.Signin}
		if in.Project != nil {
			line.Only = "one project only"
		}
		p.Signins = append(p.Signins, line)
	}
	for _, key := range k.Passkeys {
		p.Passkeys = append(p.Passkeys, passkeyLine{base64.RawURLEncoding.EncodeToString(key.ID), key.Name, key.Host,
			day(key.Created)})
	}
	for _, h := range k.Happenings[:min(len(k.Happenings), 20)] {
		p.Happenings = append(p.Happenings, happeningLine{h.What, day(h.At)})
	}
	s.show(c, status, "you.html", p)
}

// kept is all that is kept about somebody.
type kept struct {
	account    store.Account
	Name       string            `json:"name"`
	Since      string            `json:"since"`
	Households []store.Household `json:"households"`
	Signins    []store.Signin    `json:"signedIn"`
	Passkeys   []store.Passkey   `json:"passkeys"`
	Happenings []store.Happening `json:"happenings"`
	Edits      int               `json:"editsThatBearTheName"`
	NotKept    string            `json:"whatIsNotHere"`
}

func (s *Server) keptAbout(c *gin.Context, account int64) (k kept, err error) {
	ctx := asked(c)
	if k.account, err = s.store.Account(ctx, account); err != nil {
		return k, err
	}
	k.Name, k.Since = k.account.Name, k.account.Created
	var errs [5]error
	k.Households, errs[0] = s.store.Households(ctx, account)
	k.Signins, errs[1] = s.store.Signins(ctx, account)
	k.Passkeys, errs[2] = s.store.Passkeys(ctx, account)
	k.Happenings, errs[3] = s.store.Happenings(ctx, account, 1000)
	k.Edits, errs[4] = s.store.EditsBy(ctx, account)
	k.NotKept = "The password is kept as a hash only. Projects, the shed and the habits belong to the household;" +
		" each project" +
		" is exported from its own page."
	return k, errors.Join(errs[:]...)
}

// yourFile hands over what is kept about somebody.
func (s *Server) yourFile(c *gin.Context) {
	k, err := s.keptAbout(c, visitorOf(c).Account)
	if err != nil {
		s.trouble(c, err)
		return
	}
	raw, err := json.MarshalIndent(k, "", "  ")
	if err != nil {
		s.trouble(c, err)
		return
	}
	attach(c, "chamfer-kept-about-me.json", "application/json", raw)
}

// proved reports whether the password that was typed is the account's; it counts as a try.
func (s *Server) proved(c *gin.Context, field string) (ok bool, err error) {
	v := visitorOf(c)
	a, err := s.store.Account(asked(c), v.Account)
	if err != nil {
		return false, err
	}
	device := "session " + strconv.FormatInt(v.Signin, 10)
	if s.tries.Wait("", "", device) > 0 {
		return false, nil
	}
	if !people.Matches(c.PostForm(field), a.Password) {
		s.tries.Failed("", "", device)
		return false, nil
	}
	return true, nil
}

const notYours = "That is not the password you sign in with. After too many tries, wait an hour."

// setPassword changes a password; whoever does it knows the one before.
func (s *Server) setPassword(c *gin.Context) {
	v := visitorOf(c)
	bad := map[string]string{}
	ok, err := s.proved(c, "now")
	if err != nil {
		s.trouble(c, err)
		return
	}
	if !ok {
		bad["now"] = notYours
	}
	password := c.PostForm("password")
	if err := people.Password(password, v.Name); err != nil {
		bad["password"] = sentence(err.Error())
	} else if password != c.PostForm("again") {
		bad["password"] = "The two are not the same: type it once more."
	}
	if len(bad) > 0 {
		s.youShown(c, http.StatusUnprocessableEntity, youPage{Errors: bad})
		return
	}
	hash, err := people.Hash(password)
	if err == nil {
		err = s.store.SetPassword(v.Account, hash, v.Signin)
	}
	if err == nil {
		err = s.sessionsOf(c.Request).RenewToken(c.Request.Context())
	}
	if err != nil {
		s.trouble(c, err)
		return
	}
	s.live.check()
	c.Redirect(http.StatusSeeOther, "/you?said=password")
}

// setName changes the name somebody signs in with.
func (s *Server) setName(c *gin.Context) {
	name, err := people.Name(c.PostForm("name"))
	if err == nil {
		err = s.store.RenameAccount(visitorOf(c).Account, name)
	}
	if err != nil {
		why := sentence(err.Error())
		if errors.Is(err, store.ErrNameTaken) {
			why = "Somebody signs in with that name already: another works."
		}
		if store.Why(err) != "" {
			s.trouble(c, err)
			return
		}
		s.youShown(c, http.StatusUnprocessableEntity, youPage{Name: clipped(c.PostForm("name")),
			Errors: map[string]string{"name": why}})
		return
	}
	c.Redirect(http.StatusSeeOther, "/you?said=name")
}

// endSignins signs out one device, or all others.
func (s *Server) endSignins(c *gin.Context) {
	v := visitorOf(c)
	id, _ := strconv.ParseInt(c.PostForm("signin"), 10, 64)
	if err := s.store.SignOut(v.Account, id, v.Signin); err != nil {
		s.trouble(c, err)
		return
	}
	s.live.check()
	c.Redirect(http.StatusSeeOther, "/you?said=out")
}

// leave deletes an account, by its password.
func (s *Server) leave(c *gin.Context) {
	v := visitorOf(c)
	ok, err := s.proved(c, "password")
	if err == nil && !ok {
		s.youShown(c, http.StatusUnprocessableEntity, youPage{Errors: map[string]string{"leave": notYours}})
		return
	}
	if err == nil {
		err = s.store.DeleteAccount(v.Account)
	}
	if errors.Is(err, store.ErrLastOwner) {
		s.youShown(c, http.StatusConflict, youPage{Errors: map[string]string{
			"leave": "You are the only owner of a household with others in it: make one of them an owner first, or take" +
				" them out."}})
		return
	}
	if err == nil {
		err = s.sessionsOf(c.Request).Destroy(c.Request.Context())
	}
	if err != nil {
		s.trouble(c, err)
		return
	}
	s.live.check()
	c.Redirect(http.StatusSeeOther, "/sign-in")
}
