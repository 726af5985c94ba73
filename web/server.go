// Package web is the pages. It reads forms, asks the store and the plan, and
// fills templates; it reckons nothing itself. Every page works by its plain
// forms; where the script runs, a change comes back as the part of the page
// that changed.
package web

import (
	"bytes"
	"embed"
	"errors"
	"fmt"
	"html/template"
	"io/fs"
	"log/slog"
	"net/http"
	"net/url"
	"strconv"
	"strings"

	"github.com/gin-contrib/gzip"
	"github.com/gin-gonic/gin"

	"chamfer/core/catalog"
	"chamfer/core/cutting"
	"chamfer/core/plan"
	"chamfer/store"
)

//go:embed templates static
var files embed.FS

// maxForm is the largest form read, in bytes; imports have their own limit.
const maxForm = 256 << 10

// Server answers requests from one store.
type Server struct {
	store *store.Store
	pages *template.Template
	log   *slog.Logger
	cut   cutting.Memo // of every plan that is made here

	longerOn searches
}

// New returns the handler for all pages.
func New(s *store.Store, log *slog.Logger) (http.Handler, error) {
	srv := &Server{store: s, log: log}
	var err error
	if srv.pages, err = template.New("").Funcs(funcs).ParseFS(files, "templates/*.html"); err != nil {
		return nil, fmt.Errorf("templates: %w", err)
	}
	static, err := fs.Sub(files, "static")
	if err != nil {
		return nil, err
	}
	gin.SetMode(gin.ReleaseMode)
	r := gin.New()
	r.Use(srv.recovered, headers, gzip.Gzip(gzip.DefaultCompression, gzip.WithExcludedExtensions([]string{".woff2"})))
	r.GET("/static/*path", func(c *gin.Context) {
		c.Header("Cache-Control", "public, max-age=3600")
		c.FileFromFS(c.Param("path"), http.FS(static))
	})
	srv.routes(r)
	if err := srv.recall(); err != nil {
		return nil, err
	}
	return http.NewCrossOriginProtection().Handler(r), nil
}

func (s *Server) routes(r *gin.Engine) {
	r.GET("/", s.projects)
	r.POST("/projects", s.create)
	r.POST("/import", s.importFile)
	r.GET("/habits", s.habits)
	r.POST("/habits", s.setHabits)
	r.GET("/chamfer-1.schema.json", s.schema)
	r.POST("/sunlight", sunlight)
	p := r.Group("/p/:id")
	p.GET("", func(c *gin.Context) { c.Redirect(http.StatusSeeOther, "/p/"+c.Param("id")+"/bed") })
	p.GET("/:stage", s.stage)
	p.GET("/set-out", s.setOut)
	p.GET("/cautions", s.cautions)
	p.GET("/drag/preview", s.drag)
	p.GET("/turned", s.turned)
	p.POST("/edit", s.edit)
	p.POST("/undo", s.history(s.store.Undo))
	p.POST("/redo", s.history(s.store.Redo))
	p.POST("/goto", s.goTo)
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
	r.NoRoute(func(c *gin.Context) {
		s.fault(c, http.StatusNotFound, "There is no such page.", "The list of projects has everything that is kept here.")
	})
}

// recovered turns a panic into a page, and says so in the log.
func (s *Server) recovered(c *gin.Context) {
	defer func() {
		if r := recover(); r != nil {
			s.log.Error("panic", "path", c.Request.URL.Path, "reason", fmt.Sprint(r))
			c.AbortWithStatus(http.StatusInternalServerError)
		}
	}()
	c.Next()
}

func headers(c *gin.Context) {
	h := c.Writer.Header()
	h.Set("Content-Security-Policy", "default-src 'none'; style-src 'self'; script-src 'self'; font-src 'self'; img-src 'self' data:; connect-src 'self'; form-action 'self'; base-uri 'none'; frame-ancestors 'none'")
	h.Set("X-Content-Type-Options", "nosniff")
	h.Set("Referrer-Policy", "same-origin")
	if c.Request.URL.Path != "/import" {
		c.Request.Body = http.MaxBytesReader(c.Writer, c.Request.Body, maxForm)
	}
	c.Next()
}

// show renders a page, or nothing at all if its template fails.
func (s *Server) show(c *gin.Context, status int, name string, data any) {
	var b bytes.Buffer
	if err := s.pages.ExecuteTemplate(&b, name, data); err != nil {
		s.log.Error("template", "name", name, "err", err)
		c.String(http.StatusInternalServerError, "This page cannot be shown. Nothing has been lost.")
		return
	}
	page := b.Bytes()
	if _, err := c.Cookie(sunlightCookie); err == nil {
		page = bytes.Replace(page, []byte(`<html lang="en">`), []byte(`<html lang="en" class="sunlight">`), 1)
	}
	c.Header("Cache-Control", "no-store")
	c.Data(status, "text/html; charset=utf-8", fractions(page))
}

type faultPage struct {
	Title, Text, Hint string
}

func (s *Server) fault(c *gin.Context, status int, text, hint string) {
	s.show(c, status, "fault.html", faultPage{"Chamfer", text, hint})
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
	http.SetCookie(c.Writer, &http.Cookie{Name: sunlightCookie, Value: on, Path: "/", MaxAge: age, HttpOnly: true, SameSite: http.SameSiteLaxMode})
	back := "/"
	if u, err := url.Parse(c.Request.Referer()); err == nil && u.Host == c.Request.Host && strings.HasPrefix(u.Path, "/") && !strings.HasPrefix(u.Path, "//") {
		back = u.RequestURI()
	}
	c.Redirect(http.StatusSeeOther, back)
}

// trouble answers an error from the store.
func (s *Server) trouble(c *gin.Context, err error) {
	switch {
	case errors.Is(err, store.ErrNotFound):
		s.fault(c, http.StatusNotFound, "There is no such project.", "It may have been made in another file of projects.")
	default:
		s.log.Error("request", "path", c.Request.URL.Path, "err", err)
		s.fault(c, http.StatusInternalServerError, "That could not be done.", "Nothing has been lost; try again, and look at the log if it happens again.")
	}
}

// project loads the project of the request; where that fails, it answers.
func (s *Server) project(c *gin.Context) (store.Project, plan.Shop, bool) {
	id, err := strconv.ParseInt(c.Param("id"), 10, 64)
	if err != nil {
		s.trouble(c, store.ErrNotFound)
		return store.Project{}, plan.Shop{}, false
	}
	p, err := s.store.Project(id)
	if err != nil {
		s.trouble(c, err)
		return p, plan.Shop{}, false
	}
	shop, err := s.shop(p.Design.Region)
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
	pl, err := plan.Make(p.Design, shop)
	if err != nil {
		s.trouble(c, err)
		return p, nil, false
	}
	return p, pl, true
}

// shop is a region's catalogue with this workshop's habits.
func (s *Server) shop(region string) (plan.Shop, error) {
	cat, err := catalog.ForRegion(region)
	if err != nil {
		return plan.Shop{}, err
	}
	h, err := s.store.Habits(cat)
	if err != nil {
		return plan.Shop{}, err
	}
	shed, err := s.store.Shed(region)
	return plan.Shop{Catalog: cat, Habits: h, Shed: shed, Cut: &s.cut}, err
}

// scripted reports whether the page's script asks, and wants the changed part
// only.
func scripted(c *gin.Context) bool { return c.GetHeader("X-Chamfer") == "part" }

var funcs = template.FuncMap{
	"join": strings.Join,
	"add":  func(a, b int) int { return a + b },
	"dict": func(pairs ...any) map[string]any {
		d := map[string]any{}
		for i := 0; i+1 < len(pairs); i += 2 {
			d[fmt.Sprint(pairs[i])] = pairs[i+1]
		}
		return d
	},
}
