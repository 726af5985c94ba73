package web

import (
	"bytes"
	"fmt"
	"image"
	"image/jpeg"
	"mime/multipart"
	"net/url"
	"strings"
	"testing"

	"chamfer/core/measure"
	"chamfer/sim"
)

// send posts a form with a file in it.
func (s *site) send(path string, form url.Values, field, name string, raw []byte) (string, int) {
	var body bytes.Buffer
	m := multipart.NewWriter(&body)
	for k := range form {
		if err := m.WriteField(k, form.Get(k)); err != nil {
			s.t.Fatal(err)
		}
	}
	w, err := m.CreateFormFile(field, name)
	if err == nil {
		_, err = w.Write(raw)
	}
	if err != nil || m.Close() != nil {
		s.t.Fatal(err)
	}
	r, err := s.Client().Post(s.URL+path, m.FormDataContentType(), &body)
	if err != nil {
		s.t.Fatal(err)
	}
	return s.read(r)
}

// A crop of one's own is written down, wanted as a part of the bed, laid out and parted; the table goes out, comes in
// changed, and is refused whole where one cell is wrong; what grew has a photo; frosts come from a station.
func TestOwnCrops(t *testing.T) {
	s := newSite(t)
	edit := func(pairs ...string) (string, int) {
		form := url.Values{"stage": {"plants"}, "bed": {"b1"}}
		for i := 0; i < len(pairs); i += 2 {
			form.Set(pairs[i], pairs[i+1])
		}
		return s.post("/p/2/edit", form)
	}
	if page, code := edit("own-crop", "new", "own-like", "bean_bush", "own:name", "Lane bean",
		"own:each", "a foot or so"); code != 422 || !strings.Contains(page, `value="a foot or so"`) || !strings.Contains(page,
		`value="Lane bean"`) {
		t.Errorf("no size: %d", code)
	}
	for _, x := range [][]string{
		{"own-crop", "new", "own-like", "bean_bush", "own:name", "Lane bean", "own:each", "6 in", "own:high", "15 in"},
		{"own-crop", "new", "own-like", "carrot", "own:each", "3 in", "own-instead", "yes"},
		{"want-crop", "lane-bean", "want-n", "25 %"}, {"lay", "yes"}} {
		if page, code := edit(x...); code >= 400 {
			t.Fatalf("%v: %d %.300s", x, code, page)
		}
	}
	p := s.planOf(2)
	bed := p.Design.Beds[0]
	n := 0
	for _, x := range p.Growing[0].Patches {
		n += x.Plants()
		if x.Crop.Name != "Lane bean" || x.Crop.Each != 6*measure.Inch {
			t.Errorf("there grows %+v", x.Crop)
		}
	}
	if n < 20 || n > 40 { // 7 of 28 cells, four to a cell
		t.Errorf("%d beans on a quarter of the bed", n)
	}
	if page, code := edit("want-crop", "carrot", "want-n", "80 %"); code != 422 ||
		!strings.Contains(page, "up to 75 % works") {
		t.Errorf("more than the bed: %d", code)
	}
	if _, code := edit("own-crop", "lane-bean", "own-gone", "yes"); code != 422 {
		t.Errorf("a crop that grows was taken back: %d", code)
	}
	whole := len(bed.Plants)
	if page, code := edit("patch", "0", "how", "cells"); code >= 400 {
		t.Errorf("parted: %d %.200s", code, page)
	}
	after := s.planOf(2)
	m := 0
	for _, x := range after.Growing[0].Patches {
		m += x.Plants()
	}
	if len(after.Design.Beds[0].Plants) <= whole || m*10 < n*9 {
		t.Errorf("parted there are %d patches of %d, %d plants of %d", len(after.Design.Beds[0].Plants), whole, m, n)
	}

	table, _ := s.get("/p/2/files/crop-table.csv")
	if !strings.Contains(table, "lane-bean,Lane bean,") {
		t.Fatalf("the table is %.200s", table)
	}
	head := s.head(2).Head
	take := func(table string) (string, int) {
		return s.send("/p/2/crops", url.Values{"stage": {"plants"}, "rev": {fmt.Sprint(s.head(2).Head)}}, "file", "crops.csv",
			[]byte(table))
	}
	is := "lane-bean,Lane bean,Phaseolus vulgaris,Fabaceae,"
	page, code := take(strings.Replace(table, is+"veg,", is+"tree,", 1))
	if code != 422 || !strings.Contains(page, "tree") || !strings.Contains(page, "line ") || s.head(2).Head != head {
		t.Errorf("a wrong kind: %d", code)
	}
	more := strings.Replace(table, "\nlane-bean,", "\nhill-bean,", 1)
	if page, code := take(more); code >= 400 {
		t.Errorf("the table comes in: %d %.300s", code, page)
	}
	crops := s.planOf(2).Design.Crops
	if len(crops) != 3 || crops["hill-bean"] != crops["lane-bean"] || !strings.Contains(crops["carrot"], "each=3 in") {
		t.Errorf("of one's own are %v", crops)
	}

	x := after.Design.Beds[0].Plants[0]
	place := []string{"patch", "0", "soil", "0", "x", x.X.String(), "y", x.Y.String(), "wide", x.Wide.String(),
		"deep", x.Deep.String(), "way", "each", "was-set-on", "", "set-on", "2026-05-20", "was-sown-on", "", "sown-on"}
	if _, code := edit(append(place, "some day in May")...); code != 422 {
		t.Errorf("sown on no day: %d", code)
	}
	if _, code := edit(append(place, "2026-05-03")...); code >= 400 {
		t.Errorf("sown: %d", code)
	}
	edit("grown:season", "2026")
	if g := s.planOf(2).Design.Beds[0].Grown[0]; g.Sown != "2026-05-03" || g.Set != "2026-05-20" {
		t.Errorf("written down is %+v", g)
	}
	if _, code := edit("grown:0.failed", "yes", "was:grown:0.failed", ""); code >= 400 ||
		!s.planOf(2).Design.Beds[0].Grown[0].Failed {
		t.Errorf("what was lost: %d", code)
	}
	var shot bytes.Buffer
	if err := jpeg.Encode(&shot, image.NewGray(image.Rect(0, 0, 64, 48)), nil); err != nil {
		t.Fatal(err)
	}
	form := url.Values{"stage": {"plants"}, "bed": {"b1"}, "step": {"grown.b1.2026"}, "caption": {"beans in June"}}
	if _, code := s.send("/p/2/photos", form, "photo", "x.jpg", shot.Bytes()); code >= 400 {
		t.Errorf("a photo of the season: %d", code)
	}
	page, _ = s.get("/p/2/plants")
	has(t, page, "beans in June", "/p/2/photo/", "was lost", "cells are free")

	at, unplug, err := sim.Start("127.0.0.1:0", &sim.Station{Seed: 14}, sim.Faults{})
	if err != nil {
		t.Fatal(err)
	}
	t.Cleanup(func() { _ = unplug() })
	if page, code := s.post("/p/2/garden", url.Values{"stage": {"sun"}, "how": {"nights"}}); code != 422 ||
		!strings.Contains(page, "no weather station is plugged in") {
		t.Errorf("no station: %d", code)
	}
	s.h.Read(Instruments{Station: at})
	if page, code := s.post("/p/2/garden", url.Values{"stage": {"sun"}, "how": {"nights"}}); code >= 400 {
		t.Errorf("the station's nights: %d %.300s", code, page)
	}
	if sky := s.planOf(2).Design.Sky; sky == nil || sky.Last < "04-15" || sky.Last > "06-30" || sky.First < "09-01" {
		t.Errorf("frosts are %+v", sky)
	}
}
