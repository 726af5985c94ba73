package web

import (
	"strings"

	"github.com/gin-gonic/gin"

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
