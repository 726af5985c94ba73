package web

import (
	"html/template"
	"slices"
	"strings"

	"github.com/gin-gonic/gin"

	"chamfer/core/cost"
	"chamfer/core/plan"
	"chamfer/core/words"
	"chamfer/export"
)

// speech is how the pages of a request are said, and what people named themselves.
type speech struct {
	words.Speech
	own []string // as it stands in HTML
}

const speechKey = "speech"

// speaks has the request's page said in a project's words.
func speaks(c *gin.Context, p *plan.Plan) {
	s := speech{Speech: p.Shop.Speech(), own: export.InMarkup(p)}
	c.Set(speechKey, s)
}

// leaves has names of shops left as they are on the page of a request.
func leaves(c *gin.Context, book cost.Book) {
	s := speechOf(c)
	s.own = slices.Clone(s.own)
	for _, x := range book.Shops {
		s.own = append(s.own, template.HTMLEscapeString(x.Name))
	}
	c.Set(speechKey, s)
}

// speechOf is how the page of a request is said: in its project's words, and without one
// in those of the language that the browser asks for first.
func speechOf(c *gin.Context) speech {
	if s, ok := c.Get(speechKey); ok {
		return s.(speech)
	}
	first, _, _ := strings.Cut(c.GetHeader("Accept-Language"), ",")
	return speech{Speech: words.Speech{American: strings.HasPrefix(strings.ToLower(first), "en-us"), Both: true}}
}

// spoken says a page in a region's words.
func (s speech) spoken(page []byte) []byte { return s.Markup(page, s.own...) }
