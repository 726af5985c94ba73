package web

import (
	"fmt"
	"io"
	"maps"
	"net/url"
	"slices"
	"strings"

	"github.com/gin-gonic/gin"

	"chamfer/core/design"
	"chamfer/core/measure"
	"chamfer/core/plan"
	"chamfer/core/planting"
)

// cropView is a crop of the gardener's own, as it is changed.
type cropView struct {
	ID, Name, Like, Says, Error string
	Fields                      []fieldView
}

// stillView is what has room where nothing grows yet.
type stillView struct {
	Free, All int
	Groups    []stillGroup
}

type stillGroup struct {
	Name  string
	Rooms []plan.Room
}

// grownKey is what photos of a bed's year are kept by.
func grownKey(bed string, year int) string { return fmt.Sprintf("grown.%s.%d", bed, year) }

// grownOf is the bed and the year of such a key.
func grownOf(key string) (bed, year string, ok bool) {
	parts := strings.Split(key, ".")
	if len(parts) != 3 || parts[0] != "grown" {
		return "", "", false
	}
	return parts[1], parts[2], true
}

// stillFits lists what has room, by kind.
func (b *benchPage) stillFits(groups []cropGroup) *stillView {
	rooms, free, all := b.Plan.StillFits(b.Bed)
	v := &stillView{Free: free, All: all}
	for _, g := range groups {
		one := stillGroup{Name: g.Name}
		for _, r := range rooms {
			if slices.ContainsFunc(g.Crops, func(c planting.Crop) bool { return c.ID == r.Crop.ID }) {
				one.Rooms = append(one.Rooms, r)
			}
		}
		if len(one.Rooms) > 0 {
			v.Groups = append(v.Groups, one)
		}
	}
	return v
}

// cropFields are what is mostly told of a crop of one's own; a table tells the rest.
var cropFields = []struct{ key, label, help string }{
	{"name", "name", ""}, {"each", "apart each way", ""}, {"in row", "in a row", ""}, {"rows", "between rows", ""},
	{"soil", "soil", ""}, {"high", "grows high", ""}, {"spread", "and wide", ""}, {"hours", "hours of sun", ""},
	{"days", "days to harvest", "60 to 75"}, {"sown", "sown, weeks from the last frost", "1 to 4"},
	{"set out", "set out, weeks from it", "1 to 2"}, {"note", "note", ""},
}

// ownCrops are the project's own crops and the form of a new one.
func (b *benchPage) ownCrops(v *plantsBody, no refused) {
	fields := func(id string, value func(key string) string) (list []fieldView) {
		typed, again := no.values["crop:"+id]
		again = again && no.why("crop:"+id) != ""
		for _, f := range cropFields {
			x := fieldView{Key: f.key, Label: f.label, Help: f.help, Text: value(f.key), Was: value(f.key)}
			if text := told(typed, f.key); again && text != "" {
				x.Text = text
			}
			list = append(list, x)
		}
		return list
	}
	v.OwnNew = cropView{ID: "new", Like: told(no.values["crop:new"], "like"), Error: no.why("crop:new"),
		Fields: fields("new", func(string) string { return "" })}
	v.TableNo = no.why("crops")
	v.OwnNo = v.OwnNew.Error != "" || v.TableNo != ""
	pr := b.Plan.Shop.Precision()
	for _, id := range slices.Sorted(maps.Keys(b.Plan.Design.Crops)) {
		c, _ := b.Plan.Crops.Named(id)
		text := c.Text()
		one := cropView{ID: id, Name: c.Name, Error: no.why("crop:" + id),
			Says: fmt.Sprintf("%s apart, %s of soil, %s high", pr.Feet(c.Each), pr.Feet(c.Deep), pr.Feet(c.High))}
		one.Fields = fields(id, func(key string) string {
			l, err := measure.Parse(told(text, key), measure.Metric)
			if err == nil && slices.Contains([]string{"each", "in row", "rows", "soil", "high", "spread"}, key) {
				return pr.Feet(l)
			}
			return told(text, key)
		})
		v.OwnNo = v.OwnNo || one.Error != ""
		v.Own = append(v.Own, one)
	}
}

// told is what a text of a crop says of one thing.
func told(text, key string) string {
	for part := range strings.SplitSeq(text, ";") {
		if k, value, ok := strings.Cut(part, "="); ok && strings.TrimSpace(k) == key {
			return strings.TrimSpace(value)
		}
	}
	return ""
}

// cropEdit reads the form of a crop of one's own.
func cropEdit(form url.Values) (e design.Edit, label string) {
	id := form.Get("own-crop")
	var parts []string
	if like := form.Get("own-like"); id == "new" && like != "" {
		if form.Get("own-instead") != "" {
			id = like
		} else {
			parts = append(parts, "like="+like)
		}
	}
	for _, f := range cropFields {
		if value := strings.TrimSpace(strings.ReplaceAll(form.Get("own:"+f.key), ";", ",")); value != "" &&
			value != form.Get("was-own:"+f.key) {
			parts = append(parts, f.key+"="+value)
		}
	}
	e = design.Edit{Field: "crop:" + id, Value: strings.Join(parts, "; ")}
	if form.Get("own-gone") != "" {
		return design.Edit{Field: e.Field}, "a crop of one's own was taken back"
	}
	if e.Value == "" && id != "new" {
		e.Value = ";" // nothing was changed
	}
	return e, "crop: " + cmpOr(form.Get("own:name"), id)
}

// cropsFile takes in a table of crops.
func (s *Server) cropsFile(c *gin.Context) {
	file, _, err := c.Request.FormFile("file")
	if err != nil {
		s.fault(c, 422, "No file was chosen.", "Nothing was changed: choose a table of crops, crop-table.csv.")
		return
	}
	raw, err := io.ReadAll(io.LimitReader(file, maxForm))
	if fault := file.Close(); err != nil || fault != nil {
		s.fault(c, 422, "The file could not be read to its end.", "Nothing was changed: choose it again.")
		return
	}
	c.Request.PostForm.Set("crops-csv", string(raw))
	s.edit(c)
}
