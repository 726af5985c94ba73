package web

import (
	"crypto/rand"
	"encoding/hex"
	"errors"
	"fmt"
	"math"
	"net/http"
	"net/url"
	"strings"

	"github.com/gin-gonic/gin"

	"chamfer/people"
	"chamfer/store"
)

// signinPage asks who it is.
type signinPage struct {
	Title, To, Name, Error string
	Passkeys               bool   // this page's name can have them
	Why                    string // it cannot
	Plain                  bool   // the page is not secure: what is typed can be read on the way
}

func (s *Server) signinForm(c *gin.Context, status int, name, why string) {
	p := signinPage{Title: "Sign in", To: c.Query("to"), Name: name, Error: why, Why: noPasskeys(c.Request,
		s.overHTTPS(c.Request))}
	if c.Request.Method == http.MethodPost {
		p.To = c.PostForm("to")
	}
	p.Passkeys = p.Why == ""
	p.Plain = !s.overHTTPS(c.Request) && !s.onThisMachine(c.Request)
	s.show(c, status, "signin.html", p)
}

func (s *Server) signinPage(c *gin.Context) {
	if v := visitorOf(c); v.Free || v.Is() {
		c.Redirect(http.StatusSeeOther, inside(c.Query("to")))
		return
	}
	s.signinForm(c, http.StatusOK, "", "")
}

// inside is where to go on to: a page here, or the list of projects.
func inside(to string) string {
	u, err := url.Parse(to)
	if err != nil || u.IsAbs() || u.Host != "" || !strings.HasPrefix(to, "/") || strings.HasPrefix(to, "//") ||
		strings.ContainsAny(to, "\\\r\n\t") || strings.HasPrefix(u.Path, "/sign-in") {
		return "/"
	}
	return u.RequestURI()
}

// deviceCookie is what a device that has signed in before is known by, so that a flood of tries in a name does not
// keep its owner out.
const deviceCookie = "chamfer-device"

// known is what this device is known by as somebody, "" where it has not been here as them.
func (s *Server) knownDevice(c *gin.Context, account int64) string {
	text, err := c.Cookie(deviceCookie)
	if err != nil || text == "" || account == 0 {
		return ""
	}
	hash := people.Kept(text)
	if seen, err := s.store.SeenDevice(asked(c), hash, account); err != nil || !seen {
		return ""
	}
	return hex.EncodeToString(hash) + fmt.Sprint(account)
}

// keepDevice notes that this device signed in as somebody.
func (s *Server) keepDevice(c *gin.Context, account int64) error {
	text, err := c.Cookie(deviceCookie)
	if err != nil || len(text) < 20 || len(text) > 100 {
		text = rand.Text()
	}
	http.SetCookie(c.Writer, &http.Cookie{Name: deviceCookie, Value: text, Path: "/", MaxAge: 400 * 24 * 3600,
		HttpOnly: true, Secure: s.overHTTPS(c.Request), SameSite: http.SameSiteLaxMode})
	return s.store.KeepDevice(people.Kept(text), account)
}

// signIn lets in who knows the password of a name. Whoever does not is told the same, and as late, whether there is
// such a name or not.
func (s *Server) signIn(c *gin.Context) {
	if visitorOf(c).Free {
		c.Redirect(http.StatusSeeOther, "/")
		return
	}
	name, err := people.Name(c.PostForm("name"))
	password := c.PostForm("password")
	if err != nil || len([]rune(password)) > people.LongPassword {
		s.signinForm(c, http.StatusUnprocessableEntity, clipped(c.PostForm("name")), wrong)
		return
	}
	a, err := s.store.AccountNamed(asked(c), name)
	if err != nil && !errors.Is(err, store.ErrNobody) {
		s.trouble(c, err)
		return
	}
	place, device, low := s.place(c.Request), s.knownDevice(c, a.ID), strings.ToLower(name)
	if wait := s.tries.Wait(place, low, device); wait > 0 {
		c.Header("Retry-After", fmt.Sprint(int(math.Ceil(wait.Seconds()))))
		s.signinForm(c, http.StatusTooManyRequests, name,
			fmt.Sprintf("Too many tries. Wait %d minutes, use a passkey, or ask"+
				" whoever is at the machine for a link: “chamfer people recover” makes one.", int(math.Ceil(wait.Minutes()))))
		return
	}
	if !people.Matches(password, a.Password) {
		s.tries.Failed(place, low, device)
		if a.ID != 0 {
			if err := s.store.Happened(a.ID, "a wrong password from "+place); err != nil {
				s.log.Warn("happened", "err", err)
			}
		}
		s.signinForm(c, http.StatusUnprocessableEntity, name, wrong)
		return
	}
	s.tries.Passed(place, device)
	s.entered(c, a, inside(c.PostForm("to")))
}

const wrong = "That name and password do not belong together."

// clipped is what was typed, cut short.
func clipped(text string) string {
	if r := []rune(text); len(r) > people.LongName {
		return string(r[:people.LongName])
	}
	return strings.ToValidUTF8(text, "")
}

// entered signs somebody in and goes on.
func (s *Server) entered(c *gin.Context, a store.Account, to string) {
	err := s.enter(c, a.ID, 0, store.LongestSession)
	if err == nil {
		err = s.keepDevice(c, a.ID)
	}
	if err != nil {
		s.trouble(c, err)
		return
	}
	c.Redirect(http.StatusSeeOther, to)
}

// signOut ends this browser's session, and with it what it may do.
func (s *Server) signOut(c *gin.Context) {
	v, ctx := visitorOf(c), c.Request.Context()
	var err error
	if v.Signin != 0 {
		err = s.store.SignOut(v.Account, v.Signin, 0)
	}
	if err = errors.Join(err, s.sessionsOf(c.Request).Destroy(ctx)); err != nil {
		s.trouble(c, err)
		return
	}
	s.live.check()
	c.Header("Clear-Site-Data", `"cache", "storage"`) // with a job that was taken along
	c.Redirect(http.StatusSeeOther, "/sign-in")
}
