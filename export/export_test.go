package export

import (
	"bytes"
	"encoding/csv"
	"encoding/json"
	"reflect"
	"regexp"
	"slices"
	"strconv"
	"strings"
	"testing"

	"chamfer/core/catalog"
	"chamfer/core/cutting"
	"chamfer/core/design"
	"chamfer/core/measure"
	"chamfer/core/plan"
)

func example(t *testing.T, region string) []byte {
	t.Helper()
	c, err := catalog.ForRegion(region)
	if err != nil {
		t.Fatal(err)
	}
	d, err := design.ExampleNamed("boarded", c)
	if err != nil {
		t.Fatal(err)
	}
	raw, err := d.Encode()
	if err != nil {
		t.Fatal(err)
	}
	return raw
}

// Every example passes the schema and comes back as it was.
func TestDesignReadsBack(t *testing.T) {
	for _, region := range []string{"us", "metric"} {
		raw := example(t, region)
		d, err := ReadDesign(raw)
		if err != nil {
			t.Fatal(err)
		}
		again, err := d.Encode()
		if err != nil || !bytes.Equal(raw, again) {
			t.Errorf("%s: %v", region, err)
		}
	}
}

// The schema and the design's own fields name the same keys.
func TestSchemaNamesEveryField(t *testing.T) {
	var s struct {
		Defs struct {
			Bed struct {
				Properties map[string]any
				Required   []string
			}
		} `json:"$defs"`
	}
	if err := json.Unmarshal(Schema, &s); err != nil {
		t.Fatal(err)
	}
	bed := reflect.TypeFor[design.Bed]()
	for i := range bed.NumField() {
		key, _, _ := strings.Cut(bed.Field(i).Tag.Get("json"), ",")
		if _, ok := s.Defs.Bed.Properties[key]; !ok {
			t.Errorf("the schema lacks %s", key)
		}
		delete(s.Defs.Bed.Properties, key)
	}
	for key := range s.Defs.Bed.Properties {
		t.Errorf("the schema has %s, a bed does not", key)
	}
}

func TestRefusedDesigns(t *testing.T) {
	good := string(example(t, "us"))
	for name, c := range map[string]struct{ raw, says string }{
		"no JSON":       {"{", "not JSON"},
		"trailing":      {good + "x", "not JSON"},
		"an array":      {"[]", "the file"},
		"version":       {strings.Replace(good, "chamfer/1", "chamfer/9", 1), `"chamfer/9"`},
		"no region":     {strings.Replace(good, `"region": "us",`, "", 1), "region"},
		"other region":  {strings.Replace(good, `"us"`, `"moon"`, 1), "region"},
		"bad length":    {strings.Replace(good, `"96 in"`, `"long"`, 1), "long"},
		"number length": {strings.Replace(good, `"96 in"`, `96`, 1), "length"},
		"out of range":  {strings.Replace(good, `"96 in"`, `"90 m"`, 1), "length"},
		"unknown key":   {strings.Replace(good, `"grass"`, `"gras"`, 1), "gras"},
		"unknown board": {strings.Replace(good, `"2x8"`, `"2x7"`, 1), "2x7"},
		"two beds, one id": {strings.Replace(good, `"beds": [`, `"beds": [`+good[strings.Index(good,
			"    {"):strings.LastIndex(good, "  ]")-1]+",", 1),
			"own id"},
		"too large": {good + strings.Repeat(" ", MaxFile), "4 MB"},
	} {
		if _, err := ReadDesign([]byte(c.raw)); err == nil || !strings.Contains(err.Error(), c.says) {
			t.Errorf("%s: %v", name, err)
		}
	}
}

func FuzzReadDesign(f *testing.F) {
	f.Add([]byte(`{"format":"chamfer/1"}`))
	c, _ := catalog.ForRegion("us")
	raw, _ := design.New(c, "x").Encode()
	f.Add(raw)
	f.Fuzz(func(t *testing.T, raw []byte) {
		d, err := ReadDesign(raw)
		if err != nil {
			return
		}
		shop, err := plan.ShopFor(d.Region)
		if err != nil {
			t.Fatal(err)
		}
		if _, err := plan.Make(d, shop); err != nil {
			t.Errorf("a design that was read cannot be planned: %v", err)
		}
	})
}

const request = `{"kerf": "1/8 in", "stock": [
  {"id": "c26-8", "profile": "2x6", "length": "8 ft", "price": "11.40"},
  {"id": "shed-1", "profile": "2x6", "length": "53 in", "price": "0", "quantity": 1, "trim": {"start": "1 in",
	"end": "0 in"}}],
 "pieces": [{"id": "side", "profile": "2x6", "length": "93 1/2 in", "quantity": 4}]}`

func TestCutRequest(t *testing.T) {
	r, err := ReadCuts([]byte(request))
	if err != nil {
		t.Fatal(err)
	}
	if r.Stock[0].Quantity != cutting.Unlimited || r.Stock[1].Quantity != 1 || r.Stock[1].Usable().String() != "52 in" {
		t.Errorf("%+v", r)
	}
	a, err := cutting.Solve(r)
	if err != nil {
		t.Fatal(err)
	}
	want := CutAnswer{
		Cost:       "45.60",
		LowerBound: "45.60",
		Proved:     true,
		Considered: []string{"crosscut"},
		Unmet:      []CutUnmet{},
		Boards: []CutBoard{
			{
				Stock:  "c26-8",
				Count:  4,
				Cuts:   []CutPiece{{Piece: "side", Length: "93 1/2 in", At: "0 in"}},
				Offcut: "2 3/8 in",
			},
		},
	}
	if got := Answer(a, measure.Imperial); !reflect.DeepEqual(got, want) {
		t.Errorf("%+v", got)
	}
	for field, raw := range map[string]string{
		"kerf":               strings.Replace(request, "1/8 in", "1/0 in", 1),
		"stock[0].length":    strings.Replace(request, `"8 ft"`, `"96"`, 1), // a bare number has no unit here
		"stock[0].price":     strings.Replace(request, "11.40", "-1", 1),
		"stock[1].trim":      strings.Replace(request, `"53 in"`, `"1 in"`, 1),
		"pieces[0].length":   strings.Replace(request, "93 1/2 in", "0 in", 1),
		"pieces[0].quantity": strings.Replace(request, `"quantity": 4`, `"quantity": 0`, 1),
		"cut request":        "{",
		"pieces":             `{"kerf": "0 in", "stock": [], "pieces": []}`,
	} {
		_, err := ReadCuts([]byte(raw))
		if err == nil || !strings.HasPrefix(err.Error(), field) || strings.Contains(err.Error(), "\n") {
			t.Errorf("%s: %v", field, err)
		}
	}
}

// The lists as CSV: they parse, name every piece and add up; nothing a
// spreadsheet would run as a formula gets in.
func TestLists(t *testing.T) {
	d, err := ReadDesign(example(t, "us"))
	if err != nil {
		t.Fatal(err)
	}
	shop, err := plan.ShopFor("us")
	if err != nil {
		t.Fatal(err)
	}
	p, err := plan.Make(d, shop)
	if err != nil {
		t.Fatal(err)
	}
	var cuts, shopping bytes.Buffer
	if err := WriteCutList(&cuts, p); err != nil {
		t.Fatal(err)
	}
	if err := WriteShopping(&shopping, p); err != nil {
		t.Fatal(err)
	}
	rows, err := csv.NewReader(&cuts).ReadAll()
	if err != nil || len(rows)-1 != len(p.Frames[0].Parts) {
		t.Errorf("%d pieces of %d, %v", len(rows)-1, len(p.Frames[0].Parts), err)
	}
	// Where pieces are ripped side by side, counts still add up to the pieces, and each row
	// has its own width.
	footed, err := design.ExampleNamed("cleated", shop.Catalog)
	if err != nil {
		t.Fatal(err)
	}
	q, err := plan.Make(footed, shop)
	if err != nil {
		t.Fatal(err)
	}
	cuts.Reset()
	if err := WriteCutList(&cuts, q); err != nil {
		t.Fatal(err)
	}
	rows, err = csv.NewReader(&cuts).ReadAll()
	if err != nil {
		t.Fatal(err)
	}
	column := func(name string) int { return slices.Index(rows[0], name) }
	pieces := map[string]int{}
	for _, r := range rows[1:] {
		n, _ := strconv.Atoi(r[column("count")])
		pieces[r[column("piece")]+" "+r[column("length_mm")]+" "+r[column("width_mm")]] += n
	}
	for i := range q.Frames {
		for _, part := range q.Frames[i].Parts {
			pieces[part.Letter+" "+millimetres(part.CutLength())+" "+millimetres(part.Width)] -= q.Frames[i].Times
		}
	}
	for what, n := range pieces {
		if n != 0 {
			t.Errorf("%d pieces too many of %s", n, what)
		}
	}
	rows, err = csv.NewReader(&shopping).ReadAll()
	if err != nil || rows[len(rows)-1][5] != p.Bill.Total.String() {
		t.Errorf("%v, %v", rows, err)
	}
	var out bytes.Buffer
	if err := finish(csv.NewWriter(&out), [][]string{{"=1+1", "+x", "plain"}}); err != nil ||
		out.String() != "'=1+1,'+x,plain\n" {
		t.Errorf("%q, %v", out.String(), err)
	}
}

// The plan file holds the keys other programs rely on.
func TestPlanKeys(t *testing.T) {
	d, _ := ReadDesign(example(t, "metric"))
	shop, _ := plan.ShopFor("metric")
	p, err := plan.Make(d, shop)
	if err != nil {
		t.Fatal(err)
	}
	var b bytes.Buffer
	if err := WritePlan(&b, p); err != nil {
		t.Fatal(err)
	}
	var out map[string]any
	if err := json.Unmarshal(b.Bytes(), &out); err != nil {
		t.Fatal(err)
	}
	for _, key := range strings.Fields("parts units joints sheets cavities cuts shopping fixings ground fill bill" +
		" findings steps") {
		if out[key] == nil {
			t.Errorf("no %s", key)
		}
	}
	part := out["parts"].([]any)[0].(map[string]any)
	for _, key := range strings.Fields("id role profile material length_mm width_mm thickness_mm bed box_mm") {
		if part[key] == nil {
			t.Errorf("a part has no %s", key)
		}
	}
	// Lower left of the front board: the origin; 2400 + 2 x 50 clear under a cap
	// 50 in, 50 mm boards: 2600 long.
	if box := part["box_mm"].([]any); box[0].(float64) != 0 || box[2].(float64) != 0 || box[3].(float64) != 2600 {
		t.Errorf("front board %v", box)
	}
	if v := out["cavities"].([]any)[0].(map[string]any)["volume_m3"].(float64); v < 1 || v > 1.2 {
		t.Errorf("soil %v m3", v)
	}
}

// A ring's units are written with their pose, one by one, and what they stand on.
func TestUnitsAreWritten(t *testing.T) {
	shop, _ := plan.ShopFor("us")
	d, err := design.ExampleNamed("ring", shop.Catalog)
	if err != nil {
		t.Fatal(err)
	}
	p, err := plan.Make(d, shop)
	if err != nil {
		t.Fatal(err)
	}
	var b bytes.Buffer
	if err := WritePlan(&b, p); err != nil {
		t.Fatal(err)
	}
	var out struct {
		Units []struct {
			ID, SKU, Kind, Bed string
			Course             int
			Solid              [][3]float64 `json:"solid_mm"`
			Box                []float64    `json:"box_mm"`
		}
		Ground struct {
			Loose []struct{ Kind string }
		}
	}
	if err := json.Unmarshal(b.Bytes(), &out); err != nil {
		t.Fatal(err)
	}
	if len(out.Units) != len(p.Frames[0].Units) || len(out.Ground.Loose) != 3 {
		t.Fatalf("%d units, want %d; %v", len(out.Units), len(p.Frames[0].Units), out.Ground.Loose)
	}
	for _, u := range out.Units {
		if u.Kind != "standard" || u.Bed != "b1" || u.Course < 1 || len(u.Solid) != 8 && len(u.Box) != 6 {
			t.Errorf("%+v", u)
		}
	}
}

// Whatever is read as a cut request is sound, and can be planned.
func FuzzReadCuts(f *testing.F) {
	f.Add([]byte(request))
	f.Add(
		[]byte(
			`{"kerf":"0 in","aims":[],"stock":[{"id":"a","profile":"p","length":"2 m","width":"90 mm","price":"1",` +
				`"quantity":2,"defects":[{"from":"1 m","to":"1.1 m"}]}],"pieces":[{"id":"q","profile":"p","length":"40 cm",` +
				`"width":"40 mm","quantity":7}]}`,
		),
	)
	f.Add(
		[]byte(
			`{"kerf":"0 in","stock":[{"id":"a","profile":"p","length":"2 m","price":"1"},{"id":"b","profile":"p","length":"1 ` +
				`m","price":"0","quantity":2}],"pieces":[{"id":"q","profile":"p","length":"3 m","quantity":2,` +
				`"join":{"least":"30 cm","cost":"2","clear":[{"to":"1 m"}],"wall":"w","apart":"10 cm"}}]}`,
		),
	)
	f.Fuzz(func(t *testing.T, raw []byte) {
		r, err := ReadCuts(raw)
		if err != nil {
			if strings.Contains(err.Error(), "\n") {
				t.Errorf("%q takes more than a line", err)
			}
			return
		}
		r.Effort = 100_000
		if _, err := cutting.Solve(r); err != nil {
			t.Errorf("read, but not planned: %v", err)
		}
	})
}

// A project that has been at the saw, with a plot, measured boards and a length
// that is not there today, comes out and in as it was.
func TestWholeProjectReadsBack(t *testing.T) {
	shop, err := plan.ShopFor("us")
	if err != nil {
		t.Fatal(err)
	}
	d, err := design.Apply(
		design.New(shop.Catalog, "at the saw"),
		shop.Catalog,
		design.Edit{
			Field: "saw",
			Value: `[{"profile": "2x8", "species": "cedar", "sku": "2x8/cedar/10 ft", "length": "120 in", "left": "0 in", ` +
				`"cuts": [{"length": "48 in"}, {"length": "47 in", "waste": true}, {"length": "9 in", "width": "2 in", "count": ` +
				`3}]}]`,
		},
		design.Edit{
			Field: "without:2x8/cedar/12 ft",
			Value: "yes",
		},
		design.Edit{Field: "measured:2x8:width", Value: "7 1/8 in"},
		design.Edit{
			Field: "plot:fences",
			Value: "back",
		},
		design.Edit{Bed: "b1", Field: "place:0", Value: "2 ft;3 ft;turned"},
		design.Edit{Bed: "b1", Field: "hoops", Value: "pipe"},
	)
	if err != nil {
		t.Fatal(err)
	}
	raw, err := d.Encode()
	if err != nil {
		t.Fatal(err)
	}
	back, err := ReadDesign(raw)
	if err != nil || !reflect.DeepEqual(d, back) {
		t.Errorf("%v\n%+v\n%+v\n%s", err, d, back, raw)
	}
}

// A file from before a system had some of its decisions, and beds theirs, means the
// defaults.
func TestOlderFilesAreCompleted(t *testing.T) {
	cat, err := catalog.ForRegion("us")
	if err != nil {
		t.Fatal(err)
	}
	d, err := design.ExampleNamed("block-wall", cat)
	if err != nil {
		t.Fatal(err)
	}
	whole := d.Copy()
	for _, key := range []string{"bond", "fall", "fit"} {
		delete(d.Beds[0].Options, key)
	}
	d.Beds[0].On, d.Beds[0].Grows, d.Beds[0].Tended, d.Beds[0].Found = "", "", "", ""
	raw, err := d.Encode()
	if err != nil {
		t.Fatal(err)
	}
	if strings.Contains(string(raw), "bond") || strings.Contains(string(raw), "tended") {
		t.Fatalf("%s", raw)
	}
	back, err := ReadDesign(raw)
	if err != nil {
		t.Fatal(err)
	}
	if !reflect.DeepEqual(back, whole) {
		t.Errorf("%+v\nwant %+v", back.Beds[0], whole.Beds[0])
	}
}

// An answer speaks as its request did: 1397 mm is 55 in, and is not called so where all is
// written in millimetres.
func TestAnswersSpeakAsAsked(t *testing.T) {
	for raw, want := range map[string]string{
		`{"kerf": "3 mm", "stock": [{"id": "a", "profile": "p", "length": "2400 mm", "price": "1"}], "pieces": [{"id": ` +
			`"x", "profile": "p", "length": "1000 mm"}]}`: "1397 mm",
		`{"kerf": "1/8 in", "stock": [{"id": "a", "profile": "p", "length": "8 ft", "price": "1"}], "pieces": [{"id": "x",` +
			` "profile": "p", "length": "40 7/8 in"}]}`: "55 in",
	} {
		r, err := ReadCuts([]byte(raw))
		if err != nil {
			t.Fatal(err)
		}
		a, err := cutting.Solve(r)
		if err != nil {
			t.Fatal(err)
		}
		if got := Answer(a, SystemOf([]byte(raw))); got.Boards[0].Offcut != want {
			t.Errorf("left over %s, want %s", got.Boards[0].Offcut, want)
		}
	}
}

// A bed that is only tried in another system is kept with what it was before, reads back the
// same, and goes back to just that; hollow blocks kept before they could be laid dry are read
// as laid in mortar, in the size they had.
func TestTriedReadsBack(t *testing.T) {
	for _, region := range []string{"us", "metric"} {
		first, err := ReadDesign(example(t, region))
		if err != nil {
			t.Fatal(err)
		}
		cat, err := catalog.ForRegion(region)
		if err != nil {
			t.Fatal(err)
		}
		bed := first.Beds[0]
		for _, s := range design.Systems() {
			tried, err := design.Apply(first, cat, design.Edit{Bed: bed.ID, Field: "system", Value: s.Name})
			if err != nil {
				t.Errorf("%s, %s: %v", region, s.Name, err)
				continue
			}
			raw, err := tried.Encode()
			if err != nil {
				t.Fatal(err)
			}
			read, err := ReadDesign(raw)
			if err != nil {
				t.Errorf("%s, %s: %v", region, s.Name, err)
				continue
			}
			back, err := design.Apply(read, cat, design.Edit{Bed: bed.ID, Field: "system", Value: bed.System})
			if err != nil || !reflect.DeepEqual(back, first) {
				t.Errorf("%s, %s: goes back to %+v, %v", region, s.Name, back.Beds[0], err)
			}
		}
		hollow, err := design.NewOf(cat, "before", "hollow-block")
		if err == nil {
			hollow, err = design.Apply(hollow, cat, design.Edit{Bed: "b1", Field: "laid", Value: "mortar"})
		}
		if err != nil {
			t.Fatal(err)
		}
		raw, _ := hollow.Encode()
		old := regexp.MustCompile(`\s*"laid": "mortar",`).ReplaceAll(raw, nil)
		read, err := ReadDesign(old)
		if err != nil || bytes.Equal(old, raw) || !reflect.DeepEqual(read, hollow) {
			t.Errorf("%s: %v, %+v", region, err, read.Beds)
		}
	}
}
