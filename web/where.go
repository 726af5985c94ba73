package web

import (
	"fmt"
	"net/url"
	"slices"
	"strconv"

	"github.com/gin-gonic/gin"

	"chamfer/core/design"
	"chamfer/draw"
	"chamfer/store"
)

// where says what part of the bench is looked at.
type where struct {
	ID    int64
	Stage string
	View  draw.View
	Bed   string
	Hand  string // field of the dimension in hand
	Step  string
	Since int64 // revision the differences shown are counted from; 0 for none
}

func (s *Server) where(c *gin.Context, p store.Project, get func(string) string) where {
	w := where{ID: p.ID, Stage: get("stage"), View: draw.ParseView(get("view")), Hand: get("hand"), Step: get("step")}
	if st := c.Param("stage"); st != "" {
		w.Stage = st
	}
	if !slices.ContainsFunc(stages, func(s struct{ Key, Name, About string }) bool { return s.Key == w.Stage }) {
		w.Stage = "bed"
	}
	w.Since, _ = strconv.ParseInt(get("since"), 10, 64)
	bed := &p.Design.Beds[0]
	if b, err := p.Design.Bed(get("bed")); err == nil {
		bed = b
	}
	w.Bed = bed.ID
	if f, ok := design.FieldOf(*bed, w.Hand); !ok || f.Kind != design.LengthField {
		w.Hand = "length"
	}
	return w
}

// Link is the address of this place with some of it changed: pairs of name and
// value.
func (w where) Link(pairs ...string) string {
	q := url.Values{}
	stage := w.Stage
	set := map[string]string{"view": string(w.View), "hand": w.Hand, "bed": w.Bed}
	for i := 0; i+1 < len(pairs); i += 2 {
		if pairs[i] == "stage" {
			stage = pairs[i+1]
			continue
		}
		set[pairs[i]] = pairs[i+1]
	}
	defaults := map[string]string{"view": string(draw.Above), "hand": "length", "bed": "b1"}
	for k, v := range set {
		if v != "" && v != defaults[k] {
			q.Set(k, v)
		}
	}
	link := fmt.Sprintf("/p/%d/%s", w.ID, stage)
	if len(q) > 0 {
		link += "?" + q.Encode()
	}
	return link
}
