package web

import (
	"fmt"
	"net/http"
	"net/url"
	"slices"
	"strconv"
	"strings"

	"github.com/gin-gonic/gin"

	"chamfer/core/catalog"
	"chamfer/core/design"
	"chamfer/core/measure"
	"chamfer/core/strength"
	"chamfer/draw"
	"chamfer/store"
)

// where says what part of the bench is looked at.
type where struct {
	ID      int64
	Stage   string
	View    draw.View
	Bed     string
	Hand    string // field of the dimension in hand
	Step    string
	Part    string // taken in hand on the drawing
	Acts    int    // done, of the bed taken apart
	Turn    int    // of the solid, degrees round it
	Tilt    int    // of the solid, degrees down
	Path    string // of the loads, which
	Cut     string // of the ground's section, where along: millimetres
	Book    string // how readings are written down
	Heads   bool   // of fixings are drawn
	AnyView bool   // nobody said which
	Late    bool   // what-ifs and sizes nearby are asked for in a second request
	Built   bool   // all that the bed could be built as is shown
	Told    string // the sentence it was begun with, on the first page after that
	Month   int    // that the sun is looked at in; 0 for what is usual
	Quarter int    // of an hour after midnight, likewise
	Cell    string // of a bed's grid, "0.2.1": surface, column, row
	Patch   string // which planting is in hand
	Laid    bool   // what was laid out just now is explained
	Since   int64  // revision the differences shown are counted from; 0 for none
}

func (s *Server) where(c *gin.Context, p store.Project, get func(string) string) where {
	w := where{ID: p.ID, Stage: get("stage"), View: draw.ParseView(get("view")), Hand: get("hand"), Step: get("step")}
	if st := c.Param("stage"); st != "" {
		w.Stage = st
	}
	if _, ok := stageNamed(w.Stage); !ok {
		w.Stage = "bed"
	}
	w.AnyView = get("view") == ""
	w.Built = get("built") == "all"
	if told := get("said"); len(told) <= 500 {
		w.Told = told
	}
	w.Since, _ = strconv.ParseInt(get("since"), 10, 64)
	number := func(key string, most int) int {
		n, _ := strconv.Atoi(get(key))
		return min(max(n, -most), most)
	}
	w.Acts, w.Turn, w.Tilt = max(0, number("acts", 50)), number("turn", 720)%360, number("tilt", 50)
	w.Month, w.Quarter, w.Laid = max(0, number("month", wholeSeason)), max(0, number("quarter", 95)), get("laid") != ""
	if cell := get("cell"); len(cell) <= 12 {
		w.Cell = cell
	}
	if patch := get("patch"); len(patch) <= 4 {
		w.Patch = patch
	}
	if path := strength.Path(get("path")); slices.Contains(strength.AllPaths, path) {
		w.Path = string(path)
	}
	system := measure.Imperial
	if cat, err := catalog.ForRegion(p.Design.Region); err == nil {
		system = cat.System
	}
	if w.Cut = get("cut"); w.Cut == "" {
		w.Cut = typedCut(get, system)
	}
	if _, ok := w.cut(); !ok {
		w.Cut = ""
	}
	if book := get("book"); len(book) <= 10 {
		w.Book = book
	}
	if part := get("part"); len(part) <= 60 {
		w.Part = part
	}
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
	set := map[string]string{
		"view": string(w.View),
		"hand": w.Hand,
		"bed":  w.Bed,
		"part": w.Part,
		"acts": strconv.Itoa(w.Acts),
		"turn": strconv.Itoa(w.Turn),
		"tilt": strconv.Itoa(w.Tilt),
		"path": w.Path,
		"cut":  w.Cut,
		"book": w.Book,

		"month": strconv.Itoa(w.Month), "quarter": strconv.Itoa(w.Quarter), "cell": w.Cell, "patch": w.Patch,
	}
	for i := 0; i+1 < len(pairs); i += 2 {
		if pairs[i] == "stage" {
			stage = pairs[i+1]
			continue
		}
		set[pairs[i]] = pairs[i+1]
	}
	defaults := map[string]string{
		"view": string(draw.Above),
		"hand": "length",
		"bed":  "b1",
		"acts": "0",
		"turn": "0",
		"tilt": "0",

		"month": "0", "quarter": "0",
	}
	if stage == "fixings" { // it has another usual view, and says so
		delete(defaults, "view")
	}
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

// sheet is the paper the bench draws on, wide or for a phone, with links that
// take dimensions and parts in hand.
func (w where) sheet(wide bool) draw.Sheet {
	link := func(key, anchor string) string {
		s := strings.ReplaceAll(w.Link(key, "WHICH"), "%", "%%")
		return strings.Replace(s, "WHICH", "%s", 1) + anchor
	}
	s := draw.Sheet{W: 860, H: 470, Font: 17, Edit: link("hand", "#hand"), Pick: link("part", "#inhand"), Held: w.Part,
		Turn: w.Turn, Tilt: w.Tilt, Acts: w.Acts, Path: w.Path, Heads: w.Heads}
	if !wide {
		s.W, s.H, s.Font, s.Snug = 360, 320, 15, true
	}
	return s
}

// turned draws the solid from where it is being turned to.
func (s *Server) turned(c *gin.Context) {
	p, pl, ok := s.planned(c)
	if !ok {
		return
	}
	w := s.where(c, p, c.Query)
	c.Header("Cache-Control", "no-store")
	solid := draw.Bed(pl, w.Bed, draw.Solid, w.sheet(c.Query("wide") == "true"))
	c.Data(http.StatusOK, "text/html; charset=utf-8", speechOf(c).spoken([]byte(solid)))
}
