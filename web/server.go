// Package web is the pages. It reads forms, asks the store and the plan, and
// fills templates; it reckons nothing itself. Every page works by its plain
// forms; where the script runs, a change comes back as the part of the page
// that changed.
package web

import (
	"bytes"
	"embed"
	"errors"
	"html/template"
	"io/fs"
	"log/slog"
	"net/http"
	"net/url"
	"slices"
	"strings"
	"sync"
	"sync/atomic"

	"github.com/alexedwards/scs/v2"
	"github.com/gin-contrib/gzip"
	"github.com/gin-gonic/gin"

	"chamfer/core/catalog"
	"chamfer/core/cutting"
	"chamfer/core/plan"
	"chamfer/export"
	"chamfer/people"
	"chamfer/store"
)

//go:embed templates static
var files embed.FS

// Server answers requests from one store.
type Server struct {
	store  *store.Store
	pages  *template.Template
	static fs.FS
	log    *slog.Logger
	door   Door
	cut    cutting.Memo // of every plan that is made here
	sizes  plan.Sizes   // and of every size that is asked for

	longerOn searches
	seeks    seekings
	copying  copying
	figures  *figures
	ending   atomic.Bool
	turns    *turns
	reads    Instruments
	way      WayIn
	handler  http.Handler

	plain, secure *scs.SessionManager // sessions over http and over https
	tries         people.Tries
	live          live
	shown         shownPages
	plans         keptPlans
	laid          sync.Map                // the last laying out of each project's plants, to be explained
	needs         map[string]people.Right // of what is posted to a project, by the end of its address
}

// New returns the handler for all pages, which answers whom the door lets in. Before the
// store is closed it has to be told that it is the [Server.End].
func New(s *store.Store, log *slog.Logger, door Door) (*Server, error) {
	srv := &Server{store: s, log: log, door: door, turns: newTurns(), plain: newSessions(s, false), secure: newSessions(s,
		true),
		needs: map[string]people.Right{}}
	srv.figures = newFigures(srv)
	var err error
	if srv.pages, err = parsePages(files); err != nil {
		return nil, err
	}
	if err := unplaced(); err != nil {
		return nil, err
	}
	if srv.static, err = fs.Sub(files, "static"); err != nil {
		return nil, err
	}
	gin.SetMode(gin.ReleaseMode)
	r := gin.New()
	r.HandleMethodNotAllowed = true
	r.RedirectTrailingSlash, r.RedirectFixedPath = false, false
	r.Use(
		srv.counted,
		srv.recovered,
		srv.headers,
		srv.doorway,
		srv.inTouch,
		srv.who,
		gzip.Gzip(gzip.BestSpeed, gzip.WithExcludedExtensions([]string{".woff2"}),
			gzip.WithExcludedPathsRegexs([]string{"/events$"})),
		srv.forms,
	)
	srv.routes(r)
	if err := srv.recall(); err != nil {
		return nil, err
	}
	if err := s.Sweep(); err != nil {
		return nil, err
	}
	s.OnHeard(srv.hear)
	srv.handler = asGet(http.NewCrossOriginProtection().Handler(srv.inStep(srv.session(r))))
	return srv, nil
}

// ServeHTTP answers a request.
func (s *Server) ServeHTTP(w http.ResponseWriter, r *http.Request) { s.handler.ServeHTTP(w, r) }

// End stops what goes on beside the pages, and returns once what it came to is kept.
func (s *Server) End() {
	s.live.end()
	s.longerOn.end()
	s.seeks.end()
	s.copying.stop()
}

// Quiet ends what streams to open pages, so that a stop need not wait for it.
func (s *Server) Quiet() {
	s.ending.Store(true)
	s.live.end()
}

// asGet answers HEAD as GET, without the body, which the server drops by itself.
func asGet(next http.Handler) http.Handler {
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		if r.Method == http.MethodHead {
			get := r.Clone(r.Context())
			get.Method = http.MethodGet
			r = get
		}
		next.ServeHTTP(w, r)
	})
}

// route is one way in: what is asked for, what that needs, and who answers.
type route struct {
	method, path string
	access
	do gin.HandlerFunc
}

// ways are all of them. Of a project's, path is what comes after its number.
func (s *Server) ways() []route {
	const get, post = http.MethodGet, http.MethodPost
	open := access{in: anyone}
	mine := access{in: self}
	step := access{in: doorstep}
	look, design, keep := access{house, people.Look}, access{house, people.Design}, access{house, people.Keep}
	see, down := access{project, people.Look}, access{project, people.TakeDown}
	draws, keeps := access{project, people.Design}, access{project, people.Keep}
	return []route{
		{get, "/static/*path", open, s.asset},
		{get, "/sw.js", open, s.worker},
		{get, "/favicon.ico", open, s.icon},
		{get, "/robots.txt", open, robots},
		{get, "/healthz", open, alive},
		{get, "/readyz", open, s.ready},
		{get, "/health", open, s.ready},
		{get, "/phone", open, s.phone},
		{get, "/phone/authority.crt", open, s.certificate},
		{get, "/sources", open, s.sources},
		{get, "/words", open, s.terms},
		{get, "/chamfer-1.schema.json", open, schema(export.Schema)},
		{get, "/chamfer-plan-1.schema.json", open, schema(export.PlanSchema)},
		{get, "/chamfer-region-1.schema.json", open, schema(export.RegionSchema)},
		{post, "/sunlight", open, sunlight},
		{get, "/sign-in", open, s.signinPage},
		{post, "/sign-in", open, s.signIn},
		{post, "/sign-in/passkey", open, s.askPasskey},
		{post, "/sign-in/with-passkey", open, s.signInByPasskey},
		{post, "/sign-out", open, s.signOut},
		{get, "/in/:secret", open, s.inLink},
		{post, "/in/:secret", open, s.takeLink},

		{get, "/you", mine, s.you},
		{get, "/you/kept.json", mine, s.yourFile},
		{post, "/you/name", mine, s.setName},
		{post, "/you/password", mine, s.setPassword},
		{post, "/you/signed-in", mine, s.endSignins},
		{post, "/you/leave", mine, s.leave},
		{post, "/you/passkey", mine, s.newPasskey},
		{post, "/you/keep-passkey", mine, s.keepPasskey},
		{post, "/you/drop-passkey", mine, s.dropPasskey},

		{get, "/", step, s.projects},
		{get, "/people", step, s.people},
		{post, "/people/first", step, s.makeFirst},
		{post, "/people/household", mine, s.household},
		{post, "/people/invite", keep, s.invite},
		{post, "/people/uninvite", keep, s.endInvite},
		{post, "/people/role", keep, s.setRole},
		{get, "/deleted", keep, s.deleted},
		{get, "/copies", keep, s.copies},
		{post, "/copies", keep, s.makeCopy},
		{get, "/copies/everything.zip", keep, s.everything},
		{post, "/projects", design, s.create},
		{get, "/kinds", design, s.kinds},
		{post, importPath, design, s.importFile},
		{get, "/habits", look, s.habits},
		{post, "/habits", keep, s.setHabits},
		{get, "/shops", look, s.shops},
		{get, "/shops/prices.csv", look, s.pricesFile},
		{post, "/shops", access{house, people.TakeDown}, s.setShops}, // what it changes says whether that is enough

		{get, "/p/:id", see, func(c *gin.Context) { c.Redirect(http.StatusSeeOther, "/p/"+c.Param("id")+"/bed") }},
		{get, "/p/:id/:stage", see, s.stage},
		{get, "/p/:id/set-out", see, s.setOut},
		{get, "/p/:id/decisions", see, s.decisions},
		{get, "/p/:id/cautions", see, s.cautions},
		{get, "/p/:id/compare", see, s.compare},
		{get, "/p/:id/seek", see, s.seek},
		{get, "/p/:id/where", see, s.whereToBuy},
		{post, "/p/:id/buy", draws, s.buy},
		{post, "/p/:id/quote", draws, s.askQuote},
		{post, "/p/:id/seek", see, s.stopSeek},
		{post, "/p/:id/pin", draws, s.pin},
		{get, "/p/:id/drag/preview", see, s.drag},
		{get, "/p/:id/turned", see, s.turned},
		{get, "/p/:id/events", see, s.events},
		{get, "/p/:id/text", see, s.text},
		{get, "/p/:id/files/:file", see, s.file},
		{get, "/p/:id/photo/:photo", see, s.photo},
		{get, "/p/:id/version/:rev", see, s.version},
		{post, "/p/:id/edit", down, s.edit}, // what it changes says whether that is enough
		{post, "/p/:id/readings", draws, s.readings},
		{post, "/p/:id/crops", draws, s.cropsFile},
		{post, "/p/:id/level", draws, s.level},
		{post, "/p/:id/garden", down, s.garden},
		{post, "/p/:id/undo", down, s.undo}, // one's own
		{post, "/p/:id/redo", down, s.redo},
		{post, "/p/:id/goto", draws, s.goTo},
		{post, "/p/:id/mend", draws, s.mend},
		{post, "/p/:id/tick", down, s.tick},
		{post, "/p/:id/ticks", down, s.ticks},
		{post, "/p/:id/cart", down, s.cart},
		{post, "/p/:id/spoilt", down, s.spoilt},
		{post, "/p/:id/differs", down, s.differs},
		{post, "/p/:id/left", down, s.left},
		{post, "/p/:id/learn", keeps, s.learn},
		{post, "/p/:id" + photosPath, down, s.photos},
		{post, "/p/:id/saw", down, s.saw},
		{post, "/p/:id/longer", down, s.longer},
		{post, "/p/:id/shed", down, s.shed},
		{post, "/p/:id/away", down, s.away},
		{post, "/p/:id/duplicate", see, s.duplicate},
		{post, "/p/:id/rename", draws, s.rename},
		{post, "/p/:id/delete", keeps, s.remove},
		{post, "/p/:id/restore", keeps, s.restore},
		{post, "/p/:id/purge", keeps, s.purge},
		{get, "/p/:id/share", keeps, s.sharing},
		{post, "/p/:id/share", keeps, s.share},
		{post, "/p/:id/unshare", keeps, s.endShare},
		{post, "/p/:id/role", keeps, s.setProjectRole},
		{post, "/p/:id/phone", see, s.toPhone},
	}
}

func (s *Server) routes(r *gin.Engine) {
	ways := s.ways()
	shown := map[string]bool{}
	for _, w := range ways {
		shown[w.path] = shown[w.path] || w.method == http.MethodGet
	}
	for _, w := range ways {
		does := []gin.HandlerFunc{s.guard(w.access), s.telling, w.do}
		if reckons(w) {
			does = slices.Insert(does, 1, s.inTurn)
		}
		r.Handle(w.method, w.path, does...)
		action, of := strings.CutPrefix(w.path, "/p/:id/")
		if !of || w.method != http.MethodPost {
			continue
		}
		s.needs[action] = w.access.do
		if !shown[w.path] { // what is posted is no stage that could be asked for
			r.GET(w.path, s.guard(access{project, people.Look}), s.posted)
		}
	}
	r.NoMethod(s.otherMethod)
	r.NoRoute(func(c *gin.Context) {
		s.fault(
			c,
			http.StatusNotFound,
			"There is no such page.",
			"The list of projects has everything that is kept here.",
		)
	})
}

func (s *Server) headers(c *gin.Context) {
	h := c.Writer.Header()
	h.Set("Cache-Control", "no-store") // what ships with the pages says otherwise
	if s.overHTTPS(c.Request) && named(c.Request) {
		// A day: whoever starts without https again is to reach it tomorrow.
		h.Set("Strict-Transport-Security", "max-age=86400")
	}
	h.Set(
		"Content-Security-Policy",
		"default-src 'none'; style-src 'self'; script-src 'self'; font-src 'self'; img-src 'self' data:; connect-src"+
			" 'self'; form-action 'self'; base-uri 'none'; frame-ancestors 'none'",
	)
	h.Set("X-Content-Type-Options", "nosniff")
	h.Set("Referrer-Policy", "same-origin")
	if strings.HasPrefix(c.Request.URL.Path, linkPath) {
		h.Set("Referrer-Policy", "no-referrer") // the address is a secret
	}
	c.Next()
}

// otherMethod answers a method that a page does not take; what it takes is said already.
func (s *Server) otherMethod(c *gin.Context) {
	s.fault(c, http.StatusMethodNotAllowed, "This page is not asked for in that way.",
		"It takes "+c.Writer.Header().Get("Allow")+". The list of projects has everything that is kept here.")
}

// posted answers who asks for what is only posted.
func (s *Server) posted(c *gin.Context) {
	c.Header("Allow", http.MethodPost)
	s.otherMethod(c)
}

// asset serves what ships with the pages; folders are not listed.
func (s *Server) asset(c *gin.Context) {
	name := strings.TrimPrefix(c.Param("path"), "/")
	if info, err := fs.Stat(s.static, name); err != nil || info.IsDir() {
		s.fault(
			c,
			http.StatusNotFound,
			"There is no such page.",
			"The list of projects has everything that is kept here.",
		)
		return
	}
	c.Header("Cache-Control", "public, max-age=3600")
	c.FileFromFS(name, http.FS(s.static))
}

// worker serves the service worker from the root, since it answers for all pages; it is looked at anew each time.
func (s *Server) worker(c *gin.Context) {
	c.Header("Cache-Control", "no-cache")
	c.FileFromFS("sw.js", http.FS(s.static))
}

func (s *Server) icon(c *gin.Context) {
	c.Header("Cache-Control", "public, max-age=3600")
	c.FileFromFS("mark.svg", http.FS(s.static))
}

// robots keeps whoever indexes pages away: they are somebody's own.
func robots(c *gin.Context) { c.String(http.StatusOK, "User-agent: *\nDisallow: /\n") }

// openToAll stands on top of every page while the network is trusted.
const openToAll = `<aside class="open-to-all" aria-label="Who may come in"><strong>Open to this network.</strong> ` +
	`Everyone on it can read, change and delete everything here.</aside>`

// show renders a page, or nothing at all if its template fails.
func (s *Server) show(c *gin.Context, status int, name string, data any) {
	var b bytes.Buffer
	if err := s.pages.ExecuteTemplate(&b, name, data); err != nil {
		s.logOf(c).Error("template", "name", name, "err", err)
		if name == "fault.html" {
			c.String(http.StatusInternalServerError, "This page cannot be shown. Nothing has been lost.")
			return
		}
		s.unexpected(c)
		return
	}
	reckoned(c)
	page := b.Bytes()
	if _, err := c.Cookie(sunlightCookie); err == nil {
		page = bytes.Replace(page, []byte(`<html lang="en">`), []byte(`<html lang="en" class="sunlight">`), 1)
	}
	page = s.withhold(c, page)
	_, known := c.Get(visitorKey)
	if at := bytes.Index(page, []byte("<body")); s.door.Network && (!known || visitorOf(c).Free) && at >= 0 {
		at += bytes.IndexByte(page[at:], '>') + 1
		page = slices.Concat(page[:at], []byte(openToAll), page[at:])
	}
	c.Header("Cache-Control", "no-store")
	page = fractions(speechOf(c).spoken(page))
	if key := c.GetString(shownKey); key != "" && status == http.StatusOK {
		s.shown.keep(key, page)
	}
	c.Data(status, "text/html; charset=utf-8", page)
}

// sunlightCookie says that this reader wants more contrast.
const sunlightCookie = "sunlight"

// sunlight switches the high-contrast look on or off and goes back to the page.
func sunlight(c *gin.Context) {
	on := "on"
	if _, err := c.Cookie(sunlightCookie); err == nil {
		on = ""
	}
	age := 400 * 24 * 3600
	if on == "" {
		age = -1
	}
	http.SetCookie(
		c.Writer,
		&http.Cookie{
			Name:     sunlightCookie,
			Value:    on,
			Path:     "/",
			MaxAge:   age,
			HttpOnly: true,
			SameSite: http.SameSiteLaxMode,
		},
	)
	back := "/"
	if u, err := url.Parse(c.Request.Referer()); err == nil && u.Host == c.Request.Host &&
		strings.HasPrefix(u.Path, "/") &&
		!strings.HasPrefix(u.Path, "//") {
		back = u.RequestURI()
	}
	c.Redirect(http.StatusSeeOther, back)
}

// project loads the project of the request; where that fails, or it has been deleted, it
// answers.
func (s *Server) project(c *gin.Context) (store.Project, plan.Shop, bool) {
	h, ok := s.head(c)
	if !ok {
		return store.Project{}, plan.Shop{}, false
	}
	p, err := h.Read()
	if err != nil {
		s.trouble(c, err)
		return p, plan.Shop{}, false
	}
	shop, _, err := s.shopFor(asked(c), p.Household, p.Design.Region, p.ID)
	if errors.Is(err, catalog.ErrNoRegion) {
		err = &store.Damaged{Project: p.ID, Revision: p.Head, Text: p.Raw, Reason: err}
	}
	if err != nil {
		s.trouble(c, err)
		return p, shop, false
	}
	return p, shop, true
}

// planned loads the project of the request and its plan; where that fails, it
// answers.
func (s *Server) planned(c *gin.Context) (store.Project, *plan.Plan, bool) {
	p, shop, ok := s.project(c)
	if !ok {
		return p, nil, false
	}
	pl, ok := s.plan(c, p, shop)
	return p, pl, ok
}

// plan plans a project; where it cannot be planned, it answers with the ways back.
func (s *Server) plan(c *gin.Context, p store.Project, shop plan.Shop) (pl *plan.Plan, ok bool) {
	if pl, ok = s.plans.of(p.ID, p.Head, shop); ok {
		speaks(c, pl)
		return pl, true
	}
	round := s.plans.now()
	err := planned(func() (err error) { pl, err = plan.MakeFor(c.Request.Context(), p.Design, shop); return err })
	if c.Request.Context().Err() != nil { // nobody waits for it
		c.Abort()
		return nil, false
	}
	if err != nil {
		s.mendPage(c, p.ID, err)
		return nil, false
	}
	s.plans.keep(p.Standing, pl, round)
	speaks(c, pl)
	return pl, true
}

// scripted reports whether the page's script asks, and wants the changed part
// only.
func scripted(c *gin.Context) bool { return c.GetHeader("X-Chamfer") == "part" }
