package web

import (
	"context"
	"errors"
	"net"
	"net/http"
	"net/netip"
	"net/url"
	"slices"
	"strconv"
	"strings"
	"time"

	"github.com/alexedwards/scs/v2"
	"github.com/gin-gonic/gin"

	"chamfer/people"
	"chamfer/store"
)

// visitor is who asks: somebody with an account, a phone that was let into one project, a browser that has opened
// links, or where nobody has an account, whoever reaches these pages.
type visitor struct {
	Account   int64
	Name      string
	Household int64       // whose pages these are
	Role      people.Role // in it
	Signin    int64
	Only      int64        // the one project a phone may open, 0 for all
	Shares    []store.Link // this browser has opened
	Free      bool         // nobody needs an account
}

// Known reports whether somebody is signed in, or need not be.
func (v visitor) Known() bool { return v.Free || v.Account != 0 }

// Is reports whether this is somebody with an account, who may go everywhere it may.
func (v visitor) Is() bool { return v.Account != 0 && v.Only == 0 }

// guarded reports whether every request signs in: since an account was made, or because the door says so.
func (s *Server) guarded(ctx context.Context) (bool, error) {
	if s.door.Accounts {
		return true, nil
	}
	return s.store.Guarded(ctx)
}

// Keys of what a session holds.
const (
	keySignin    = "signin"
	keyHousehold = "household"
	keyShares    = "shares"
	keyPasskey   = "passkey"
)

// staticPath is what ships with the pages, for anybody.
const staticPath = "/static/"

const visitorKey, roleKey = "visitor", "role"

// newSessions are a browser's, over https or not. A cookie that was set over https is never sent without.
func newSessions(s *store.Store, secure bool) *scs.SessionManager {
	m := scs.New()
	m.Store = s.Sessions()
	m.Lifetime = store.LongestSession
	m.HashTokenInStore = true
	m.Cookie.Name, m.Cookie.Secure = "chamfer", secure
	if secure {
		m.Cookie.Name = "__Host-chamfer"
	}
	m.Cookie.SameSite = http.SameSiteLaxMode
	return m
}

// sessions of a request.
func (s *Server) sessionsOf(r *http.Request) *scs.SessionManager {
	if s.overHTTPS(r) {
		return s.secure
	}
	return s.plain
}

// overHTTPS reports whether a request came over https, to here or to a proxy that was named.
func (s *Server) overHTTPS(r *http.Request) bool {
	return r.TLS != nil || r.Header.Get("X-Forwarded-Proto") == "https" && s.door.proxied(r)
}

// session gives a request what its cookie stands for. What streams is not held back until its session is kept.
func (s *Server) session(next http.Handler) http.Handler {
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		m := s.sessionsOf(r)
		switch {
		case strings.HasPrefix(r.URL.Path, staticPath):
			next.ServeHTTP(w, r)
		case strings.HasSuffix(r.URL.Path, "/events"):
			token := ""
			if c, err := r.Cookie(m.Cookie.Name); err == nil {
				token = c.Value
			}
			ctx, err := m.Load(r.Context(), token)
			if r.Context().Err() != nil { // nobody waits for it
				return
			}
			if err != nil {
				http.Error(w, "the file of projects cannot be read", http.StatusServiceUnavailable)
				return
			}
			next.ServeHTTP(w, r.WithContext(ctx))
		default:
			m.LoadAndSave(next).ServeHTTP(w, r)
		}
	})
}

// who finds out who asks.
func (s *Server) who(c *gin.Context) {
	if strings.HasPrefix(c.Request.URL.Path, staticPath) {
		c.Next()
		return
	}
	v, err := s.visitor(c)
	if err != nil {
		s.trouble(c, err)
		c.Abort()
		return
	}
	c.Set(visitorKey, v)
	c.Next()
}

func (s *Server) visitor(c *gin.Context) (visitor, error) {
	ctx := c.Request.Context()
	guarded, err := s.guarded(ctx)
	if err != nil {
		return visitor{}, err
	}
	if !guarded {
		return visitor{Household: store.Home, Role: people.Owner, Free: true}, nil
	}
	m := s.sessionsOf(c.Request)
	v := visitor{}
	if shares, ok := m.Get(ctx, keyShares).([]int64); ok {
		for _, id := range shares {
			l, err := s.store.LinkOf(ctx, id)
			if err == nil && l.Kind == store.Share {
				v.Shares = append(v.Shares, l)
			} else if err != nil && !errors.Is(err, store.ErrNoLink) {
				return v, err
			}
		}
	}
	in, err := s.store.Signin(ctx, m.GetInt64(ctx, keySignin))
	if errors.Is(err, store.ErrNobody) {
		return v, nil
	}
	if err != nil {
		return v, err
	}
	a, err := s.store.Account(ctx, in.Account)
	if err != nil {
		return v, err
	}
	v.Account, v.Name, v.Signin = a.ID, a.Name, in.ID
	if in.Project != nil {
		v.Only = *in.Project
		return v, nil
	}
	all, err := s.store.Households(ctx, a.ID)
	if err != nil {
		return v, err
	}
	wanted := m.GetInt64(ctx, keyHousehold)
	for _, h := range all {
		if v.Household == 0 || h.ID == wanted {
			v.Household, v.Role = h.ID, h.Role
		}
	}
	return v, nil
}

// visitorOf is who asks.
func visitorOf(c *gin.Context) visitor {
	v, _ := c.Get(visitorKey)
	who, _ := v.(visitor)
	return who
}

// roleIn is what a visitor may be in a project: by what they are in its household and in it, or by a link.
func (s *Server) roleIn(ctx context.Context, v visitor, h store.Standing) (people.Role, error) {
	if v.Free {
		return people.Owner, nil
	}
	role := people.Guest
	if v.Account != 0 && (v.Only == 0 || v.Only == h.ID) {
		of, in, err := s.store.RoleIn(ctx, h.Household, h.ID, v.Account)
		if err != nil {
			return role, err
		}
		if of != "" {
			role = people.Of(of, in)
		}
	}
	for _, l := range v.Shares {
		if l.Project != nil && *l.Project == h.ID && people.Lesser(role, l.Role) == role {
			role = l.Role
		}
	}
	return role, nil
}

// scope is what a right is needed in.
type scope int

const (
	anyone   scope = iota // nobody need be known
	self                  // somebody with an account
	doorstep              // the household whose pages these are; its guests too
	house                 // that household
	project               // the project of the address
)

// access is what a route asks of whoever takes it.
type access struct {
	in scope
	do people.Right
}

// guard turns away whom a route is not for.
func (s *Server) guard(a access) gin.HandlerFunc {
	return func(c *gin.Context) {
		v := visitorOf(c)
		switch a.in {
		case self:
			if !v.Is() {
				s.signFirst(c, v)
			}
		case doorstep, house:
			switch {
			case a.in == doorstep && v.Is(): // what names them is listed
			case !v.Free && !v.Is():
				s.signFirst(c, v)
			case !v.Role.May(a.do):
				s.barred(c, v.Role, a.do)
			}
		case project:
			s.guardProject(c, v, a.do)
		}
		if !c.IsAborted() {
			c.Next()
		}
	}
}

func (s *Server) guardProject(c *gin.Context, v visitor, do people.Right) {
	if v.Free { // what is not there is told by who looks for it
		c.Set(roleKey, people.Owner)
		return
	}
	id, err := strconv.ParseInt(c.Param("id"), 10, 64)
	if err != nil {
		id = 0
	}
	h, err := s.store.Standing(c.Request.Context(), id)
	if err != nil && !errors.Is(err, store.ErrNotFound) {
		s.trouble(c, err)
		c.Abort()
		return
	}
	role := people.Guest
	if err == nil {
		if role, err = s.roleIn(c.Request.Context(), v, h); err != nil {
			s.trouble(c, err)
			c.Abort()
			return
		}
	}
	switch {
	case !role.May(people.Look) && !v.Known():
		s.signFirst(c, v)
	case !role.May(people.Look): // nobody learns what there is
		s.trouble(c, store.ErrNotFound)
		c.Abort()
	case !role.May(do), do == people.Keep && v.Only != 0:
		s.barred(c, role, do)
	}
	c.Set(roleKey, role)
}

// may reports whether the visitor of a project's page may do something there.
func may(c *gin.Context, do people.Right) bool {
	role, ok := c.Get(roleKey)
	r, _ := role.(people.Role)
	return ok && r.May(do) && (do != people.Keep || visitorOf(c).Only == 0)
}

// signFirst asks who it is. What was sent is not done; what was typed is still in its field.
func (s *Server) signFirst(c *gin.Context, v visitor) {
	c.Abort()
	if v.Free {
		s.fault(c, http.StatusNotFound, "Nobody has an account here.",
			"Whoever reaches these pages may change everything. “Who may come in”, on the list of projects, has the way to"+
				" an account.")
		return
	}
	if v.Only != 0 {
		s.fault(c, http.StatusForbidden, "This phone was let into one project only.",
			"Its build steps are at /p/"+strconv.FormatInt(v.Only, 10)+"/build. To go elsewhere, sign in here.")
		return
	}
	if c.Request.Method == http.MethodGet && !scripted(c) && !strings.HasSuffix(c.Request.URL.Path, "/events") {
		c.Redirect(http.StatusSeeOther, "/sign-in?"+url.Values{"to": {c.Request.URL.RequestURI()}}.Encode())
		return
	}
	s.fault(c, http.StatusUnauthorized, "You are signed out here.",
		"Nothing was changed, and what you typed is still in its field: sign in, in another window, then press again.")
}

// barred says who may do what was asked.
func (s *Server) barred(c *gin.Context, role people.Role, do people.Right) {
	c.Abort()
	s.fault(c, http.StatusForbidden, "You may not "+do.Words()+".",
		"Nothing was changed. You are a "+string(role)+" here; an "+string(do.Holder())+
			" may, and an owner of the household can make you one.")
}

// place is where a request comes from, as tries are counted by: an address, of the newer kind its network.
func (s *Server) place(r *http.Request) string {
	from, err := netip.ParseAddrPort(r.RemoteAddr)
	if err != nil {
		return r.RemoteAddr
	}
	ip := from.Addr().Unmap().WithZone("")
	if s.door.proxied(r) { // the last that passed it on is the proxy that was named
		list := strings.Split(strings.Join(r.Header.Values("X-Forwarded-For"), ","), ",")
		for _, f := range slices.Backward(list) {
			at, err := netip.ParseAddr(strings.TrimSpace(f))
			if err != nil {
				break
			}
			if ip = at.Unmap(); !s.door.names(ip) {
				break
			}
		}
	}
	if ip.Is6() {
		if p, err := ip.Prefix(64); err == nil {
			return p.String()
		}
	}
	return ip.String()
}

// proxied reports whether a request was passed on by a proxy that was named.
func (d Door) proxied(r *http.Request) bool {
	from, err := netip.ParseAddrPort(r.RemoteAddr)
	return err == nil && d.names(from.Addr().Unmap().WithZone(""))
}

func (d Door) names(ip netip.Addr) bool {
	return slices.ContainsFunc(d.Proxies, func(p netip.Prefix) bool { return p.Contains(ip) })
}

// onThisMachine reports whether a request was made at the machine itself.
func (s *Server) onThisMachine(r *http.Request) bool {
	host, _, err := net.SplitHostPort(r.RemoteAddr)
	ip, bad := netip.ParseAddr(host)
	return err == nil && bad == nil && ip.Unmap().IsLoopback() && len(s.door.Proxies) == 0
}

// deviceOf is what a browser calls itself, in short.
func deviceOf(r *http.Request) string {
	agent := r.UserAgent()
	what := "a browser"
	for _, b := range []struct{ sign, name string }{{"Firefox/", "Firefox"}, {"Edg/", "Edge"}, {"Chrome/", "Chrome"},
		{"Safari/", "Safari"}} {
		if strings.Contains(agent, b.sign) {
			what = b.name
			break
		}
	}
	for _, o := range []struct{ sign, name string }{{"Android", "Android"}, {"iPhone", "an iPhone"}, {"iPad", "an iPad"},
		{"Windows", "Windows"}, {"Mac OS", "a Mac"}, {"Linux", "Linux"}} {
		if strings.Contains(agent, o.sign) {
			return what + " on " + o.name
		}
	}
	return what
}

// enter signs a browser in: its session gets a new token, so that one somebody else may have planted is worth nothing.
func (s *Server) enter(c *gin.Context, account, project int64, lasts time.Duration) error {
	ctx, m := c.Request.Context(), s.sessionsOf(c.Request)
	if was := m.GetInt64(ctx, keySignin); was != 0 {
		if in, err := s.store.Signin(ctx, was); err == nil {
			if err := s.store.SignOut(in.Account, in.ID, 0); err != nil {
				return err
			}
		}
	}
	if err := m.RenewToken(ctx); err != nil {
		return err
	}
	id, err := s.store.SignIn(account, project, deviceOf(c.Request))
	if err != nil {
		return err
	}
	m.Remove(ctx, keyHousehold)
	m.Remove(ctx, keyPasskey)
	m.Put(ctx, keySignin, id)
	m.SetDeadline(ctx, time.Now().Add(lasts).UTC())
	return nil
}
