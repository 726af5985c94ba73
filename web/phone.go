package web

import (
	"fmt"
	"html/template"
	"net/http"
	"net/netip"
	"net/url"
	"strconv"
	"strings"
	"time"

	"github.com/gin-gonic/gin"
	"rsc.io/qr"
)

// WayIn is how these pages are reached, for whoever takes them to another machine.
type WayIn struct {
	Addresses   []string // "https://192.168.0.4:8420", this machine's own first
	Secure      bool
	Authority   []byte // certificate of this machine's own authority, PEM; nil where there is none
	Fingerprint string
	Until       time.Time
}

// Reached tells the server how it is.
func (s *Server) Reached(w WayIn) { s.way = w }

// elsewhere is the first address that another machine can open, "" where there is none.
func (w WayIn) elsewhere() string {
	for _, at := range w.Addresses {
		u, err := url.Parse(at)
		if err != nil {
			continue
		}
		if ip, err := netip.ParseAddr(u.Hostname()); err == nil && ip.Unmap().IsLoopback() || u.Hostname() == "localhost" {
			continue
		}
		return at
	}
	return ""
}

// Printed is a code of that address for a terminal, two rows to a line, with the quiet edge that readers want; "" where
// only this machine can open it.
func (w WayIn) Printed() string {
	code, err := qr.Encode(w.elsewhere(), qr.M)
	if w.elsewhere() == "" || err != nil {
		return ""
	}
	var b strings.Builder
	for y := -2; y < code.Size+2; y += 2 {
		for x := -2; x < code.Size+2; x++ { // light on dark: what is not black is drawn
			b.WriteString(map[[2]bool]string{{false, false}: "█", {false, true}: "▀", {true, false}: "▄",
				{true, true}: " "}[[2]bool{code.Black(x, y), code.Black(x, y+1)}])
		}
		b.WriteByte('\n')
	}
	return b.String()
}

// drawn is a code as a picture, its squares in one path.
func drawn(text string) template.HTML {
	code, err := qr.Encode(text, qr.M)
	if err != nil {
		return ""
	}
	const edge = 4
	var path strings.Builder
	for y := range code.Size {
		for x := range code.Size {
			if code.Black(x, y) {
				fmt.Fprintf(&path, "M%d %dh1v1h-1z", x+edge, y+edge)
			}
		}
	}
	n := code.Size + 2*edge
	return template.HTML(fmt.Sprintf(`<svg class="code" viewBox="0 0 %d %d" role="img" aria-label="%s"><rect width="%d"`+
		` height="%d" fill="#fff"/><path fill="#000" d="%s"/></svg>`, n, n, template.HTMLEscapeString("code of "+text), n, n,
		path.String()))
}

// phonePage shows how a phone gets in, and how it comes to trust this machine.
type phonePage struct {
	Title, At    string
	Code         template.HTML
	Others       []string
	Way          WayIn
	Free         bool     // nobody has an account
	Parts        []string // of the fingerprint, eight to a line
	Until        string
	Certificates string // where the authority's is fetched
}

func (s *Server) phone(c *gin.Context) {
	p := phonePage{Title: "On a phone", At: s.way.elsewhere(), Way: s.way, Free: visitorOf(c).Free,
		Certificates: "/phone/authority.crt"}
	if id, err := strconv.ParseInt(c.Query("p"), 10, 64); err == nil && p.At != "" {
		p.At += fmt.Sprintf("/p/%d/build", id)
	}
	if p.At != "" {
		p.Code = drawn(p.At)
	}
	for _, at := range s.way.Addresses {
		if at != p.At {
			p.Others = append(p.Others, at)
		}
	}
	for f := s.way.Fingerprint; f != ""; {
		n := min(len(f), 24)
		p.Parts, f = append(p.Parts, strings.TrimSuffix(f[:n], ":")), f[n:]
	}
	if s.way.Authority != nil {
		p.Until = s.way.Until.Format("2 January 2006")
	}
	s.show(c, http.StatusOK, "phone.html", p)
}

// certificate is the authority's, as phones take one in.
func (s *Server) certificate(c *gin.Context) {
	if s.way.Authority == nil {
		s.fault(c, http.StatusNotFound, "This machine has no authority of its own.", "Start it with --secure for one.")
		return
	}
	c.Header("Content-Disposition", `attachment; filename="chamfer-authority.crt"`)
	c.Data(http.StatusOK, "application/x-x509-ca-cert", s.way.Authority)
}
