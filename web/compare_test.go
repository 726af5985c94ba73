package web

import (
	"fmt"
	"net/url"
	"regexp"
	"strings"
	"testing"
	"time"

	"github.com/go-rod/rod/lib/input"

	"chamfer/core/measure"
)

// A project is pinned up, changed, and weighed beside what it was; no more than four stand side by side; one press
// takes
// one, and the others stay.
func TestCompare(t *testing.T) {
	b := browser(t)
	s := newSite(t)
	p := s.tab(b, "/p/2/compare", 1280, 800)
	first := s.head(2).Head
	p.fill("#pin-name", "as it was")
	p.press(input.Enter)
	p.until(`() => document.querySelector('.side-head.now strong').textContent === 'as it was'`)
	was := s.planOf(2).Weigh()
	for i, e := range []url.Values{{"species": {"treated"}}, {"cap": {"none"}}, {"length": {"6 ft"}}} {
		e.Set("stage", "frame")
		s.post("/p/2/edit", e)
		if i == 2 {
			break
		}
		page, code := s.post("/p/2/pin", url.Values{"revision": {fmt.Sprint(s.head(2).Head)}, "label": {"timber → " +
			strings.Repeat("treated ", 9)}})
		if code >= 400 || !strings.Contains(page, "as it stands") && !strings.Contains(page, "Side by side") {
			t.Fatalf("pinned: %d", code)
		}
	}
	if page, code := s.post("/p/2/pin", url.Values{"revision": {fmt.Sprint(s.head(2).Head)},
		"name": {"a fourth"}}); code != 422 ||
		!strings.Contains(page, "take one down first") {
		t.Errorf("a fourth was pinned up: %d", code)
	}
	if _, code := s.post("/p/2/pin", url.Values{"revision": {"1"}, "name": {"of another"}}); code != 404 {
		t.Errorf("another project's version was pinned up: %d", code)
	}
	if _, code := s.post("/p/2/pin", url.Values{"revision": {fmt.Sprint(first)}, "name": {strings.Repeat("x",
		60)}}); code != 422 {
		t.Errorf("a long name: %d", code)
	}
	p.open(s.URL + "/p/2/compare")
	now := s.planOf(2).Weigh()
	text := p.text(".sides")
	cur := s.planOf(2).Shop.Currency()
	for _, want := range []string{cur.Format(was.Cost), cur.Format(now.Cost), cur.Format(was.Yearly[0]), "planting length",
		"instead of"} {
		if !strings.Contains(text, want) {
			t.Errorf("side by side does not say %q", want)
		}
	}
	p.clean("four side by side")
	page, _ := s.get("/p/2/compare")
	if n := strings.Count(page, "side-head"); n != 4 || !strings.Contains(page, "d-spent") {
		t.Errorf("%d stand side by side", n)
	}
	phone := s.tab(b, "/p/2/compare", 390, 844)
	phone.clean("side by side on a phone")
	if _, code := s.post("/p/2/goto", url.Values{"revision": {fmt.Sprint(first)}, "stage": {"bed"}}); code >= 400 {
		t.Errorf("taken: %d", code)
	}
	if s.planOf(2).Bill.Total != was.Cost {
		t.Errorf("it costs %v, and %v as it was", s.planOf(2).Bill.Total, was.Cost)
	}
	if pins, err := s.store.Pins(t.Context(), 2); err != nil || len(pins) != 3 {
		t.Errorf("%d are pinned up after one was taken: %v", len(pins), err)
	}
	s.post("/p/2/pin", url.Values{"revision": {fmt.Sprint(first)}, "drop": {"yes"}})
	if pins, _ := s.store.Pins(t.Context(), 2); len(pins) != 2 {
		t.Errorf("%d are pinned up after one was taken down", len(pins))
	}
}

// What a search offers is taken by its button, and costs what it said.
func TestSeek(t *testing.T) {
	b := browser(t)
	s := newSite(t)
	sets := regexp.MustCompile(`name="set" value="([^"]*)"`)
	total := regexp.MustCompile(`\$([\d.,]+) in all`)
	// sought is the page of a search once it is over.
	sought := func(query string) (page string, code int) {
		for range 600 {
			if page, code = s.get("/p/2/seek?" + query); !strings.Contains(page, "data-busy") {
				return page, code
			}
			time.Sleep(100 * time.Millisecond)
		}
		t.Fatalf("%s goes on for ever", query)
		return "", 0
	}
	take := func(query string) (said string) {
		page, code := sought(query)
		if code != 200 {
			t.Fatalf("%s: %d", query, code)
		}
		one, _, ok := strings.Cut(page[strings.Index(page, `class="found"`):], "</form>")
		if !ok {
			t.Fatalf("%s finds nothing", query)
		}
		form := url.Values{"stage": {"bed"}, "bed": {"b1"}, "label": {"found"}}
		for _, m := range sets.FindAllStringSubmatch(one, -1) {
			form.Add("set", strings.NewReplacer("&gt;", ">", "&#34;", `"`, "&#39;", "'").Replace(m[1]))
		}
		if page, code := s.post("/p/2/edit", form); code >= 400 {
			t.Fatalf("%s is not taken: %d %v %.300s", query, code, form, page)
		}
		if m := total.FindStringSubmatch(one); m != nil {
			said = m[1]
		}
		return said
	}
	before := s.planOf(2).Bill.Total
	take("for=better&aim=cheaper")
	if now := s.planOf(2).Bill.Total; now >= before {
		t.Errorf("what was to be cheaper costs %v, before %v", now, before)
	}
	for _, most := range []string{"area", "depth", "years"} {
		said := take("for=budget&sum=300&most=" + most)
		if now := s.planOf(2).Bill.Total; now > 30000 || !strings.HasSuffix(s.planOf(2).Shop.Currency().Format(now), said) {
			t.Errorf("the most %s for 300 costs %v, and %s was told", most, now, said)
		}
	}
	for _, c := range []struct{ query, want string }{{"for=budget&sum=much", "is no sum of money; 250 works"},
		{"for=better&aim=nicer", "cheaper works"}} {
		if page, code := s.get("/p/2/seek?" + c.query); code != 422 || !strings.Contains(page, c.want) {
			t.Errorf("%s: %d", c.query, code)
		}
	}
	if page, _ := sought("for=budget&sum=5&most=area"); !strings.Contains(page, "None costs so little") {
		t.Error("five dollars buy a bed")
	}
	p := s.tab(b, "/p/2/seek", 1280, 800)
	p.fill("#sum", "250")
	p.press(input.Enter)
	p.until(`() => document.querySelectorAll('.found').length > 3 && document.querySelector('.front svg')`)
	p.clean("what a budget buys")
	take("for=map&at=20.9")
	if bed := s.planOf(2).Design.Beds[0]; bed.Length != 84*measure.Inch || bed.Width != 39*measure.Inch {
		t.Errorf("the size that was pressed is %v by %v", bed.Length, bed.Width)
	}
	p.open(s.URL + "/p/2/seek?for=map")
	p.until(`() => document.querySelectorAll('.wide a.size').length > 500 && document.querySelector('.wide .d-here')`)
	p.clean("what every size costs")
	phone := s.tab(b, "/p/2/seek?for=better&aim=quicker", 390, 844)
	phone.clean("quicker, on a phone")
	// From a pile, on the phone, and one of what was found is taken.
	for _, board := range []string{"14 of 2x8 cedar 8 ft", "3 of 4x4 cedar 8 ft"} {
		if _, code := s.post("/p/2/shed", url.Values{"stage": {"cuts"}, "leftover": {board}}); code != 200 {
			t.Fatalf("%s: %d", board, code)
		}
	}
	phone.open(s.URL + "/p/2/seek")
	phone.clickOn(`button[value="pile"]`)
	phone.until(`() => !document.querySelector('[data-busy]') && document.querySelectorAll('.found').length > 2`)
	phone.clean("what a pile builds, on a phone")
	if text := phone.text("main"); !strings.Contains(text, "to buy:") || !strings.Contains(text, "left:") {
		t.Error("it is not said what has to be bought besides, and what is left")
	}
	phone.clickOn(`.found form button`)
	phone.until(`() => location.pathname.endsWith('/bed')`)
	owned := 0
	for _, l := range s.planOf(2).Bill.Lines {
		if l.Owned {
			owned += l.Quantity
		}
	}
	if owned < 4 {
		t.Errorf("of the pile %d boards are used", owned)
	}
	for _, x := range []struct{ query, want string }{{"for=place&long=9+ft&wide=3+ft", "To fit 9&#39; by 3&#39;"},
		{"for=around&long=4+ft&wide=2+ft&deep=10", "Round 4&#39; by 2&#39;, 10&#34; deep"}} {
		page, code := sought(x.query)
		if code != 200 || !strings.Contains(page, x.want) || strings.Count(page, `class="found"`) < 5 {
			t.Errorf("%s: %d, %d beds", x.query, code, strings.Count(page, `class="found"`))
		}
	}
	if page, code := sought("for=place&long=nine&wide=3"); code != 422 || !strings.Contains(page, `value="nine"`) {
		t.Errorf("no place: %d", code)
	}
	p.open(s.URL + "/p/2/seek?for=place&long=9+ft&wide=3+ft")
	p.until(`() => document.querySelectorAll('.found').length > 4`)
	p.clean("what fits a place")
	// A search that takes longer says how far it is, and is stopped with what it found; a map is there at once, in part.
	long := url.Values{"bed": {"b1"}, "for": {"budget"}, "sum": {"900"}, "most": {"area"}, "aim": {""}}
	if page, _ := s.get("/p/3/seek?" + long.Encode()); !strings.Contains(page, "data-busy") ||
		!strings.Contains(page, "tried.") && !strings.Contains(page, "waits its turn") {
		t.Error("a long search does not say how far it is")
	}
	page, code := s.post("/p/3/seek", long)
	has(t, page, "It was stopped before all were.")
	if code != 200 || strings.Contains(page, "data-busy") {
		t.Errorf("stopped: %d, and it goes on", code)
	}
	page, _ = s.get("/p/3/seek?bed=b1&for=map")
	if n := strings.Count(page, `class="size`); n < 100 || !strings.Contains(page, "data-busy") {
		t.Errorf("at once are %d sizes there", n)
	}
	phone.open(s.URL + "/p/3/seek?bed=b1&for=map")
	phone.until(`() => !document.querySelector('[data-busy]') && document.querySelectorAll('.wide a.size').length > 500`)
}

// Prices that are written in say how old they are, and how they moved; one that is taken back by undo was never seen.
func TestPricesSeen(t *testing.T) {
	s := newSite(t)
	sku := ""
	for _, l := range s.planOf(2).Bill.Lines {
		if strings.HasPrefix(l.SKU, "2x8/") {
			sku = l.SKU
		}
	}
	if sku == "" {
		t.Fatal("no 2x8 is bought")
	}
	for _, price := range []string{"12.40", "13.10", "99"} {
		if _, code := s.post("/p/2/edit", url.Values{"stage": {"bill"}, "price:" + sku: {price}}); code >= 400 {
			t.Fatalf("%s: %d", price, code)
		}
	}
	if _, code := s.post("/p/2/undo", url.Values{"stage": {"bill"}}); code >= 400 {
		t.Fatalf("undo: %d", code)
	}
	seen, err := s.store.PricesSeen(t.Context(), 2)
	if err != nil || len(seen) != 2 || seen[0].Price != 1240 || seen[1].Price != 1310 || seen[1].SKU != sku {
		t.Errorf("seen were %+v: %v", seen, err)
	}
	page, _ := s.get("/p/2/bill")
	has(t, page, "Prices as they were seen and paid", "of today", "12.40 seen", "13.10 seen", "how the price moved")
	if now := s.raw(); now != nil {
		now.MustExec("UPDATE revisions SET created_at = '2026-01-05T10:00:00Z' WHERE edits LIKE '%price:%'")
	}
	page, _ = s.get("/p/2/bill?x=1")
	has(t, page, "days old")
}

// What is bought comes home in trips of what the car carries, as it was said in pounds; all goes with what a trip and a
// delivery cost.
func TestGettingHome(t *testing.T) {
	s := newSite(t)
	page, _ := s.get("/p/2/shop")
	has(t, page, "Getting it home", "1 trip of a truck that carries 661 lb", "No way to load them takes fewer trips.",
		"On a truck: garden soil mix, loose.")
	form := url.Values{"region": {"us"}, "kerf": {"1/8 in"}, "carry": {"9 ft"}, "tax": {"0"}, "settling": {"15"},
		"spare": {"5"}, "precision": {"1/16 in"}, "currency": {"$"}, "car_kg": {"40 lb"}, "car_litres": {"9 cu ft"},
		"trip": {"9"}, "delivery": {"20"}}
	if page, code := s.post("/habits", form); code != 200 || field("car_kg", page) != "40 lb" ||
		field("car_litres", page) != "9 cu ft" {
		t.Fatalf("%d, %q", code, field("car_kg", page))
	}
	page, _ = s.get("/p/2/shop")
	has(t, page, "trips of a truck that carries 40 lb", "for going; a delivery for $20.00 is cheaper")
	form.Set("car_kg", "a lot")
	if page, code := s.post("/habits", form); code != 422 || !strings.Contains(page, "300 kg or 660 lb works") ||
		field("car_kg", page) != "a lot" {
		t.Errorf("no weight: %d", code)
	}
}
