package web

import (
	"net/http"

	"github.com/gin-gonic/gin"

	"chamfer/core/sources"
)

// sourcesPage is the works that the figures rest on, and how sure they are.
type sourcesPage struct {
	Title string
	Works []sources.Work
}

func (s *Server) sources(c *gin.Context) {
	s.show(c, http.StatusOK, "sources.html", sourcesPage{Title: "What the figures rest on", Works: sources.List()})
}
