package web

import (
	"html/template"
	"net/http"

	"github.com/gin-gonic/gin"

	"chamfer/core/words"
	"chamfer/draw"
)

type termView struct {
	words.Term
	Drawing template.HTML
}

// terms shows the words of the trade, each with a drawing.
func (s *Server) terms(c *gin.Context) {
	var list []termView
	for _, t := range words.Terms() {
		list = append(list, termView{t, template.HTML(draw.Term(t.Word))})
	}
	s.show(c, http.StatusOK, "terms.html", struct {
		Title string
		Terms []termView
	}{"Words of the trade", list})
}
