package web

import (
	"bytes"
	"html/template"
	"strings"

	"github.com/gin-gonic/gin"

	"chamfer/core/plan"
	"chamfer/core/words"
)

// speech is how the pages of a request are said, and what people named themselves.
type speech struct {
	words.Speech
	own []string // as it stands in HTML
}

const speechKey = "speech"

// speaks has the request's page said in a project's words.
func speaks(c *gin.Context, p *plan.Plan) {
	s := speech{Speech: p.Shop.Speech()}
	for _, name := range p.Names() {
		s.own = append(s.own, strings.ReplaceAll(template.HTMLEscapeString(name), "+", "&#43;"))
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

// spoken says a page's texts, and what is read of its tags, in a region's words. Scripts,
// what is typed, and whatever is marked as people's own are left alone.
func (s speech) spoken(page []byte) []byte {
	text := func(out *bytes.Buffer, text []byte) {
		if len(bytes.TrimSpace(text)) == 0 {
			out.Write(text)
			return
		}
		out.WriteString(s.Say(string(text), s.own...))
	}
	return rewritten(page, text, s.tag, func(name string, tag []byte) bool {
		switch name {
		case "script", "style", "textarea":
			return true
		}
		return bytes.Contains(tag, []byte(" data-own"))
	})
}

// read are the attributes that are read by people.
var read = []string{` aria-label="`, ` title="`, ` placeholder="`, ` alt="`}

// tag writes a tag with its attributes that are read said.
func (s speech) tag(out *bytes.Buffer, tag []byte) {
	if bytes.HasPrefix(tag, []byte("<html")) {
		tag = bytes.Replace(tag, []byte(`lang="en"`), []byte(`lang="`+s.Lang()+`"`), 1)
	}
	text := string(tag)
	if strings.Contains(text, " data-own") {
		out.Write(tag)
		return
	}
	for _, name := range read {
		if at := strings.Index(text, name); at >= 0 {
			at += len(name)
			if end := strings.IndexByte(text[at:], '"'); end >= 0 {
				text = text[:at] + s.Say(text[at:at+end], s.own...) + text[at+end:]
			}
		}
	}
	out.WriteString(text)
}
