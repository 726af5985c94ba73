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

	"github.com/gin-contrib/gzip"
	"github.com/gin-gonic/gin"

	"chamfer/core/catalog"
	"chamfer/core/cutting"
	"chamfer/core/plan"
	"chamfer/export"
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

	longerOn searches
	reads    Instruments
	way      WayIn
	handler  http.Handler
}

// New returns the handler for all pages, which answers whom the door lets in. Before the
// store is closed it has to be told that it is the [Server.End].
func New(s *store.Store, log *slog.Logger, door Door) (*Server, error) {
	srv := &Server{store: s, log: log, door: door}
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
		srv.recovered,
		headers,
		srv.doorway,
		gzip.Gzip(gzip.BestSpeed, gzip.WithExcludedExtensions([]string{".woff2"})),
		srv.forms,
	)
	srv.routes(r)
	if err := srv.recall(); err != nil {
		return nil, err
	}
	srv.handler = asGet(http.NewCrossOriginProtection().Handler(r))
	return srv, nil
}

// ServeHTTP answers a request.
func (s *Server) ServeHTTP(w http.ResponseWriter, r *http.Request) { s.handler.ServeHTTP(w, r) }

// End stops what goes on beside the pages, and returns once what it came to is kept.
func (s *Server) End() { s.longerOn.end() }

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

func (s *Server) routes(r *gin.Engine) {
	r.GET("/static/*path", s.asset)
	r.GET("/favicon.ico", s.icon)
	r.GET("/robots.txt", robots)
	r.GET("/health", s.health)
	r.GET("/", s.projects)
	r.GET("/deleted", s.deleted)
	r.POST("/projects", s.create)
	r.POST(importPath, s.importFile)
	r.GET("/phone", s.phone)
	r.GET("/phone/authority.crt", s.certificate)
	r.GET("/habits", s.habits)
	r.GET("/sources", s.sources)
	r.POST("/habits", s.setHabits)
	r.GET("/chamfer-1.schema.json", schema(export.Schema))
	r.GET("/chamfer-plan-1.schema.json", schema(export.PlanSchema))
	r.POST("/sunlight", sunlight)
	p := r.Group("/p/:id")
	p.GET("", func(c *gin.Context) { c.Redirect(http.StatusSeeOther, "/p/"+c.Param("id")+"/bed") })
	p.GET("/:stage", s.stage)
	p.GET("/set-out", s.setOut)
	p.GET("/decisions", s.decisions)
	p.GET("/cautions", s.cautions)
	p.GET("/drag/preview", s.drag)
	p.GET("/turned", s.turned)
	p.POST("/edit", s.edit)
	p.POST("/readings", s.readings)
	p.POST("/level", s.level)
	p.POST("/garden", s.garden)
	p.POST("/undo", s.history("undone", s.store.Undo))
	p.POST("/redo", s.history("redone", s.store.Redo))
	p.POST("/goto", s.goTo)
	p.POST("/mend", s.mend)
	p.GET("/text", s.text)
	p.POST("/tick", s.tick)
	p.POST("/saw", s.saw)
	p.POST("/longer", s.longer)
	p.POST("/shed", s.shed)
	p.POST("/away", s.away)
	p.POST("/duplicate", s.duplicate)
	p.POST("/rename", s.rename)
	p.POST("/delete", s.remove)
	p.POST("/restore", s.restore)
	p.GET("/files/:file", s.file)
	for _, route := range r.Routes() { // what is posted is no stage that could be asked for
		if action, ok := strings.CutPrefix(route.Path, "/p/:id/"); ok && route.Method == http.MethodPost {
			p.GET("/"+action, s.posted)
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

func headers(c *gin.Context) {
	h := c.Writer.Header()
	h.Set(
		"Content-Security-Policy",
		"default-src 'none'; style-src 'self'; script-src 'self'; font-src 'self'; img-src 'self' data:; connect-src"+
			" 'self'; form-action 'self'; base-uri 'none'; frame-ancestors 'none'",
	)
	h.Set("X-Content-Type-Options", "nosniff")
	h.Set("Referrer-Policy", "same-origin")
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

func (s *Server) icon(c *gin.Context) {
	c.Header("Cache-Control", "public, max-age=3600")
	c.FileFromFS("mark.svg", http.FS(s.static))
}

// robots keeps whoever indexes pages away: they are somebody's own.
func robots(c *gin.Context) { c.String(http.StatusOK, "User-agent: *\nDisallow: /\n") }

// health says whether the file of projects can be read.
func (s *Server) health(c *gin.Context) {
	if err := s.store.Ready(); err != nil {
		s.log.Error("health", "err", err)
		c.String(http.StatusServiceUnavailable, "the file of projects cannot be read\n")
		return
	}
	c.String(http.StatusOK, "ok\n")
}

// openToAll stands on top of every page while the network is trusted.
const openToAll = `<aside class="open-to-all" aria-label="Who may come in"><strong>Open to this network.</strong> ` +
	`Everyone on it can read, change and delete everything here.</aside>`

// show renders a page, or nothing at all if its template fails.
func (s *Server) show(c *gin.Context, status int, name string, data any) {
	var b bytes.Buffer
	if err := s.pages.ExecuteTemplate(&b, name, data); err != nil {
		s.log.Error("template", "name", name, "err", err)
		if name == "fault.html" {
			c.String(http.StatusInternalServerError, "This page cannot be shown. Nothing has been lost.")
			return
		}
		s.unexpected(c)
		return
	}
	page := b.Bytes()
	if _, err := c.Cookie(sunlightCookie); err == nil {
		page = bytes.Replace(page, []byte(`<html lang="en">`), []byte(`<html lang="en" class="sunlight">`), 1)
	}
	if at := bytes.Index(page, []byte("<body")); s.door.Network && at >= 0 {
		at += bytes.IndexByte(page[at:], '>') + 1
		page = slices.Concat(page[:at], []byte(openToAll), page[at:])
	}
	c.Header("Cache-Control", "no-store")
	c.Data(status, "text/html; charset=utf-8", fractions(speechOf(c).spoken(page)))
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
	shop, _, err := s.shopFor(asked(c), p.Design.Region, p.ID)
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
	err := planned(func() (err error) { pl, err = plan.MakeFor(c.Request.Context(), p.Design, shop); return err })
	if c.Request.Context().Err() != nil { // nobody waits for it
		c.Abort()
		return nil, false
	}
	if err != nil {
		s.mendPage(c, p.ID, err)
		return nil, false
	}
	speaks(c, pl)
	return pl, true
}

// scripted reports whether the page's script asks, and wants the changed part
// only.
func scripted(c *gin.Context) bool { return c.GetHeader("X-Chamfer") == "part" }
