package web

import (
	"fmt"
	"net/http"
	"net/url"
	"regexp"
	"strings"
	"sync/atomic"
	"testing"
	"time"

	"github.com/go-rod/rod/lib/input"

	"chamfer/core/catalog"
	"chamfer/core/cost"
	"chamfer/core/money"
	"chamfer/sim"
	"chamfer/store"
)

// unshopped is a site whose price book is empty.
func unshopped(t *testing.T) *site {
	t.Helper()
	s := newSite(t)
	for _, cat := range catalog.Regions() {
		list, err := s.store.BookShops(t.Context(), store.Home, cat.ID)
		if err != nil {
			t.Fatal(err)
		}
		for _, x := range list {
			if err := s.store.DropShop(store.Home, x.ID); err != nil {
				t.Fatal(err)
			}
		}
	}
	return s
}

// numberOf is the number of a shop.
func numberOf(t *testing.T, s *site, name string) string {
	t.Helper()
	book, err := s.store.Book(t.Context(), store.Home, "us")
	shop, ok := book.Named(name)
	if err != nil || !ok {
		t.Fatalf("no shop %s: %v", name, err)
	}
	return fmt.Sprint(shop.ID)
}

// A shop is written down, and a price of it in the aisle on a phone; what it comes to by measure, how it moved and how
// old it is stand there; the list goes out and comes back.
func TestPriceBook(t *testing.T) {
	b := browser(t)
	s := unshopped(t)
	p := s.tab(b, "/shops?region=us", 390, 844)
	p.fill("#shop-new-name", "Lowfield Yard")
	p.fill("#shop-new-fee", "6.50")
	p.press(input.Enter)
	p.until(`() => document.querySelector('.shop-card h3')?.textContent === 'Lowfield Yard'`)
	p.fill("#note-item", "2x6 western 8 ft")
	p.fill("#note-price", "14.66")
	p.press(input.Enter)
	p.until(`() => document.querySelector('#hand-h')?.textContent.startsWith('2x6, Western cedar, 8 ft')`)
	text := p.text("#hand")
	for _, want := range []string{"Lowfield Yard the least", "$14.66", "$1.83", "$4.00", "of today"} {
		if !strings.Contains(text, want) {
			t.Errorf("the thing in hand does not say %q: %s", want, text)
		}
	}
	p.clean("a price on a phone")
	for item, want := range map[string]string{"2x6": "More than one thing is called that",
		"moon": "Nothing is sold here"} {
		page, code := s.post("/shops", url.Values{"region": {"us"}, "how": {"price"}, "shop": {numberOf(t, s,
			"Lowfield Yard")}, "item": {item},
			"price": {"3.00"}})
		if code != 422 || !strings.Contains(page, want) || !strings.Contains(page, `value="3.00"`) ||
			!strings.Contains(page, `value="`+item+`"`) {
			t.Errorf("%q: %d, without %q or what was typed", item, code, want)
		}
	}
	if page, code := s.post("/shops", url.Values{"region": {"us"}, "how": {"shop"}, "name": {"lowfield  YARD"}}); code !=
		422 || !strings.Contains(page, "another name works") {
		t.Errorf("two shops called nearly the same: %d", code)
	}
	was, err := time.ParseInLocation(time.DateOnly, time.Now().AddDate(0, 0, -41).Format(time.DateOnly), time.Local)
	if err != nil {
		t.Fatal(err)
	}
	list := fmt.Sprintf("shop,item,price,seen,tax\nLowfield Yard,2x6/cedar/8 ft,13.10,%s,without\n"+
		"Hill Stores,cmu8,2.40,,with\n",
		was.Format(time.DateOnly))
	send := func(text string) (string, int) {
		return s.send("/shops", url.Values{"region": {"us"}, "how": {"list"}}, "file", "prices.csv", []byte(text))
	}
	before, _ := s.get("/shops/prices.csv?region=us")
	if page, code := send(strings.Replace(list, "2.40", "dear", 1)); code != 422 || !strings.Contains(page,
		"Line 3, column") {
		t.Errorf("a list with a fault: %d", code)
	}
	if after, _ := s.get("/shops/prices.csv?region=us"); after != before {
		t.Error("some of it was taken in")
	}
	if _, code := send(list); code != 200 {
		t.Errorf("a list: %d", code)
	}
	page, _ := s.get("/shops?region=us&item=2x6/cedar/8+ft")
	if !strings.Contains(page, "d-spent") || !strings.Contains(page, "2 times") || !strings.Contains(page, "$13.10 on") {
		t.Error("how the price moved is not drawn")
	}
	out, _ := s.get("/shops/prices.csv?region=us")
	if _, code := send(out); code != 200 {
		t.Errorf("the book's own list: %d", code)
	}
	if again, _ := s.get("/shops/prices.csv?region=us"); again != out || !strings.Contains(out, "Hill Stores,cmu8,") {
		t.Errorf("the list came back otherwise:\n%s\n%s", out, again)
	}
	p.open(s.URL + "/shops?region=us&item=2x6/cedar/8+ft")
	p.clean("a price that moved, on a phone")
}

var (
	sumOf = regexp.MustCompile(`name="total" value="([0-9.]+)"`)
	atOf  = regexp.MustCompile(`name="at"\s+value="([^"]+)"`)
)

// stocked gives a site's book two shops with a price of everything, the second brings.
func stocked(t *testing.T, s *site, region string) {
	t.Helper()
	cat, err := catalog.ForRegion(region)
	if err != nil {
		t.Fatal(err)
	}
	var list []cost.Priced
	for i, w := range cat.Wares() {
		for k, shop := range []string{"Near Yard", "Far Stores"} {
			list = append(list, cost.Priced{At: shop, Quote: cost.Quote{SKU: w.SKU, Left: catalog.Plenty,
				Seen: time.Now().AddDate(0, 0, -3).Format(time.DateOnly), Price: w.Price * money.Amount(90+(i*7+k*11)%20) / 100}})
		}
	}
	if err := s.store.NotePrices(store.Home, region, list); err != nil {
		t.Fatal(err)
	}
}

// A project is bought where it costs least, by one press; the bill says where each thing is from. A price that moves,
// and
// what was paid in the aisle, are told and taken; nothing moves silently.
func TestBuyAtShops(t *testing.T) {
	b := browser(t)
	s := unshopped(t)
	stocked(t, s, "us")
	p := s.tab(b, "/p/3/bill", 1280, 800)
	p.clickOn(`a[href="/p/3/where"]`)
	p.until(`() => document.querySelector('.where-total')`)
	p.clean("where to buy it")
	page, _ := s.get("/p/3/where")
	total, err := money.Parse(sumOf.FindStringSubmatch(page)[1])
	if err != nil {
		t.Fatal(err)
	}
	p.clickOn(`section[aria-labelledby="best-h"] form button`)
	p.until(`() => location.pathname.endsWith('/bill')`)
	q := s.planOf(3)
	if q.Bill.Total != total { // going costs nothing at these
		t.Errorf("it costs %v, and %v was told", q.Bill.Total, total)
	}
	if text := p.text(".bill"); !strings.Contains(text, "at Near Yard") || !strings.Contains(text, "at Far Stores") {
		t.Error("the bill does not say where things are from")
	}
	p.clean("the bill of two shops")
	page, _ = s.get("/p/3/cuts")
	for _, c := range q.Cuts { // which of two shops a board is from is said where both have its length
		for sku, n := range c.Answer.Bought() {
			if sale, ok := q.Shop.Catalog.SaleOf(sku); ok && n > 0 && sku != catalog.Base(sku) &&
				!strings.Contains(page, catalog.From+sale.At) {
				t.Errorf("the cut sheet does not say that %s is bought at %s", sku, sale.At)
			}
		}
	}
	var line cost.Line
	for _, l := range q.Bill.Lines {
		if l.Group == cost.Timber && l.At == "Near Yard" {
			line = l
		}
	}
	sku := catalog.Base(line.SKU)
	if page, code := s.post("/p/3/buy", url.Values{"at": {"Near Yard"}, "total": {"1.00"}}); code != 409 ||
		!strings.Contains(page, "Nothing was changed") {
		t.Errorf("what was told is not what it costs: %d", code)
	}
	cat, err := catalog.ForRegion("us")
	if err != nil {
		t.Fatal(err)
	}
	s.post("/shops", url.Values{"region": {"us"}, "how": {"price"}, "shop": {numberOf(t, s, "Near Yard")}, "item": {sku},
		"price": {(line.Price + 111).String()}})
	if w, ok := cat.Ware(sku); !ok || s.planOf(3).Bill.Total != total {
		t.Errorf("%s: the bill moved by itself: %v", w.Name, s.planOf(3).Bill.Total)
	}
	page, _ = s.get("/p/3/bill")
	told := fmt.Sprintf("%s at Near Yard is %s now, and was %s.", line.Item, q.Shop.Currency().Format(line.Price+111),
		q.Shop.Currency().Format(line.Price))
	if !strings.Contains(page, told) {
		t.Errorf("the bill does not say %q", told)
	}
	p.open(s.URL + "/p/3/bill")
	p.clickOn(`.moved button`)
	p.until(`() => !document.querySelector('.moved')`)
	if page, _ = s.get("/p/3/bill"); strings.Contains(page, "and was") {
		t.Error("with the prices of today something still moved")
	}
	if got := s.planOf(3).Bill.Total; got <= total {
		t.Errorf("it costs %v now, and %v before a board was dearer", got, total)
	}
	// In the aisle: what is paid there is a price of the shop from now on.
	for _, l := range s.planOf(3).Bill.Lines {
		if l.Group == cost.Fixings && l.At != "" {
			line = l
		}
	}
	if _, code := s.post("/p/3/cart", url.Values{"stage": {"shop"}, "tick": {"cart:" + line.SKU}, "how": {"paid"},
		"packs": {fmt.Sprint(line.Quantity)}, "paid": {(line.Price + 7).String()}}); code != 200 {
		t.Errorf("paid: %d", code)
	}
	book, err := s.store.Book(t.Context(), store.Home, "us")
	if err != nil {
		t.Fatal(err)
	}
	shop, _ := book.Named(line.At)
	seen := false
	for _, x := range book.Quotes {
		seen = seen || x.Shop == shop.ID && x.SKU == line.SKU && x.Price == line.Price+7
	}
	if moved := s.planOf(3).Moved(book); !seen || len(moved) > 0 {
		t.Errorf("what was paid is in the book: %v; told: %v", seen, moved)
	}
	// So is what is written in on the bill.
	for _, l := range s.planOf(3).Bill.Lines {
		if l.Group == cost.Timber && l.At != "" {
			line = l
		}
	}
	p.open(s.URL + "/p/3/bill")
	field := fmt.Sprintf(`[name="price:%s"]`, line.SKU)
	p.saved(func() {
		p.fill(field, (line.Price + 13).String())
		p.press(input.Enter)
	})
	q = s.planOf(3)
	if book, err = s.store.Book(t.Context(), store.Home, "us"); err != nil {
		t.Fatal(err)
	}
	if moved := q.Moved(book); len(q.Design.Prices) > 0 || len(moved) > 0 {
		t.Errorf("a price of a shop that is written in on the bill is one's own: %v; told: %v", q.Design.Prices, moved)
	}
	page, _ = s.get("/p/3/files/project.chamfer.json")
	if !strings.Contains(page, `"sold"`) {
		t.Error("the project's file does not say where it is bought")
	}
	s.post("/p/3/buy", url.Values{"how": {"anywhere"}})
	if len(s.planOf(3).Design.Sold) != 0 {
		t.Error("it is still bought at shops")
	}
	phone := s.tab(b, "/p/3/where", 390, 844)
	phone.clean("where to buy it, on a phone")
}

// The supplier is asked by a press: its prices and its stock are in the book; when it is down the last ones stand, and
// it
// is said; what runs out while one shops is told; a quote is shown, and nothing is bought.
func TestSupplierAnswers(t *testing.T) {
	s := unshopped(t)
	cat, err := catalog.ForRegion("us")
	if err != nil {
		t.Fatal(err)
	}
	var day atomic.Int64
	day.Store(time.Date(2027, 4, 5, 9, 0, 0, 0, time.UTC).Unix())
	far := &sim.Supplier{Seed: 3, Now: func() time.Time { return time.Unix(day.Load(), 0).UTC() }}
	for _, w := range cat.Wares() {
		far.Articles = append(far.Articles, sim.Article{Region: "us", Item: w.SKU, Name: w.Name, Price: w.Price})
	}
	at, stop, err := sim.StartSupplier("127.0.0.1:0", far)
	if err != nil {
		t.Fatal(err)
	}
	defer func() { _ = stop() }()
	s.h.Read(Instruments{Supplier: at})
	id, err := s.store.PutShop(store.Home, "us", cost.Shop{Name: "Brook Lane", Feed: true})
	if err != nil {
		t.Fatal(err)
	}
	ask := func() (string, int) {
		return s.post("/shops", url.Values{"region": {"us"}, "how": {"ask"}, "shop": {fmt.Sprint(id)}})
	}
	if page, code := ask(); code != 200 || !strings.Contains(page, "brings it for $19.00") ||
		!strings.Contains(page, "Asked just now") {
		t.Fatalf("asked: %d", code)
	}
	stocked(t, s, "us")
	page, _ := s.get("/p/3/where")
	best := url.Values{"total": {sumOf.FindStringSubmatch(page)[1]}}
	first, _, _ := strings.Cut(page, `name="total"`)
	for _, m := range atOf.FindAllStringSubmatch(first, -1) {
		best.Add("at", m[1])
	}
	if _, code := s.post("/p/3/buy", best); code != 200 {
		t.Fatalf("bought at the best, %v: %d", best, code)
	}
	atIt := 0
	for _, l := range s.planOf(3).Bill.Lines {
		if l.At == "Brook Lane" {
			atIt++
		}
	}
	if atIt == 0 {
		t.Fatal("nothing is bought at the supplier: the test shows nothing")
	}
	if page, code := s.post("/p/3/quote", nil); code != 200 || !strings.Contains(page, "it is no order") ||
		!strings.Contains(page, `<option value="2027-04-06-am"`) {
		t.Errorf("a quote: %d", code)
	}
	if page, code := s.post("/p/3/quote", url.Values{"slot": {"2027-04-06-pm"}}); code != 200 ||
		!strings.Contains(page, "for bringing them") {
		t.Errorf("a quote that is brought: %d", code)
	}
	if page, code := s.post("/p/3/quote", url.Values{"slot": {"never"}}); code != 422 ||
		!strings.Contains(page, "choose another") {
		t.Errorf("a slot that there is not: %d", code)
	}
	day.Add(6*86400 + 7*3600) // by Sunday most is gone
	total := s.planOf(3).Bill.Total
	if _, code := ask(); code != 200 {
		t.Fatalf("asked again: %d", code)
	}
	page, _ = s.get("/p/3/shop")
	if s.planOf(3).Bill.Total != total {
		t.Error("the bill moved by itself")
	}
	if !strings.Contains(page, "Brook Lane has") && !strings.Contains(page, "at Brook Lane is") {
		t.Error("what moved and ran out at the supplier is not told in the shop")
	}
	before, _ := s.get("/shops/prices.csv?region=us")
	for name, down := range map[string]func(){"broken": func() { far.Faults.PerMille = 1000 },
		"shut": func() { _ = stop() }} {
		down()
		page, code := ask()
		if code != http.StatusBadGateway || !strings.Contains(page, "last prices stand") {
			t.Errorf("%s: %d, without saying so", name, code)
		}
		if after, _ := s.get("/shops/prices.csv?region=us"); after != before {
			t.Errorf("%s: the prices moved", name)
		}
		if _, code := s.get("/p/3/where"); code != 200 {
			t.Errorf("%s: where to buy it: %d", name, code)
		}
	}
	if page, code := s.post("/p/3/quote", nil); code != http.StatusBadGateway || !strings.Contains(page,
		"The list stands as it is") {
		t.Errorf("a quote of a supplier that is shut: %d", code)
	}
}

// What is left of packs goes into the shed with the boards when a job is put away, is worth something there, and the
// next job uses it by one press.
func TestSharesOfPacks(t *testing.T) {
	b := browser(t)
	s := newSite(t)
	page, _ := s.get("/p/2/cuts")
	has(t, page, "When the job is done", "deck screw")
	if _, code := s.post("/p/2/away", url.Values{"stage": {"cuts"}}); code != 200 {
		t.Fatalf("put away: %d", code)
	}
	stuff, err := s.store.Stuff(t.Context(), store.Home, "us")
	if err != nil || len(stuff) == 0 {
		t.Fatalf("nothing is in the shed: %v", err)
	}
	for _, x := range s.planOf(2).Shares(nil) {
		if stuff[x.Item] != x.Left {
			t.Errorf("%d of %s are in the shed, and %d were left", stuff[x.Item], x.Item, x.Left)
		}
	}
	if _, code := s.post("/p/2/away", url.Values{"stage": {"cuts"}}); code != 200 {
		t.Fatalf("put away again: %d", code)
	}
	if again, _ := s.store.Stuff(t.Context(), store.Home, "us"); fmt.Sprint(again) != fmt.Sprint(stuff) {
		t.Error("put away twice, it is there twice")
	}
	page, _ = s.get("/p/2/cuts")
	has(t, page, "worth $", "All of it is worth about $")
	total := s.planOf(3).Bill.Total
	p := s.tab(b, "/p/3/bill", 1280, 800)
	p.until(`() => document.querySelector('.in-shed')`)
	p.clean("what is in the shed, on the bill")
	p.saved(func() { p.clickOn(`.in-shed button`) })
	q := s.planOf(3)
	if len(q.Design.Have) == 0 || q.Bill.Total > total {
		t.Errorf("nothing of the shed is used, or it costs more: %v, %v before", q.Bill.Total, total)
	}
	for item, n := range q.Design.Have {
		if n > stuff[item] {
			t.Errorf("%d of %s are counted on, and %d are there", n, item, stuff[item])
		}
	}
	item := ""
	for k := range stuff {
		item = k
	}
	for n, want := range map[string]int{"7": 7, "0": 0} {
		if _, code := s.post("/p/2/shed", url.Values{"stage": {"cuts"}, "stuff": {item}, "stuff-n": {n}}); code != 200 {
			t.Errorf("counted %s: %d", n, code)
		}
		if now, _ := s.store.Stuff(t.Context(), store.Home, "us"); now[item] != want {
			t.Errorf("counted %s, and %d are there", n, now[item])
		}
	}
	if page, code := s.post("/p/2/shed", url.Values{"stage": {"cuts"}, "stuff": {item},
		"stuff-n": {"many"}}); code != 422 ||
		item != "" && !strings.Contains(page, "is no number of them") {
		t.Errorf("a count that is none: %d", code)
	}
}
