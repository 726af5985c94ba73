package web

import (
	"bytes"
	"fmt"
	"image"
	"image/jpeg"
	"mime/multipart"
	"net/http"
	"net/url"
	"regexp"
	"slices"
	"strings"
	"testing"

	"chamfer/core/catalog"
	"chamfer/core/cost"
	"chamfer/core/plan"
	"chamfer/core/record"
	"chamfer/store"
)

// In the aisle on a phone: a thing is ticked, a length is not there and the list is planned anew and says what changed,
// another is dearer than planned, one has no stand-in and stays on the list; with the cable pulled a tick waits and
// arrives; what the plan needs no more is to be put back; and all of it is on the Log.
func TestShopping(t *testing.T) {
	b := browser(t)
	s := newSite(t)
	cable := s.plug(t)
	phone := s.tab(b, "/p/2/bed", 390, 844)
	phone.open("http://" + cable.addr + "/p/2/shop")
	phone.ready("shop")
	phone.clean("the shop on a phone")
	lines := func() (list []cost.Line) {
		for _, l := range s.planOf(2).Bill.Lines {
			if !l.Owned {
				list = append(list, l)
			}
		}
		return list
	}
	at := func(sku string) string { return "#item-" + catalog.Slug(sku) }
	good := func(sku string) (g store.Good) {
		list, err := s.store.Goods(t.Context(), 2)
		if err != nil {
			t.Fatal(err)
		}
		if i := slices.IndexFunc(list, func(g store.Good) bool { return g.Item == sku }); i >= 0 {
			g = list[i]
		}
		return g
	}
	all := lines()
	board, screw := all[0], all[slices.IndexFunc(all, func(l cost.Line) bool { return l.Group == cost.Fixings })]
	phone.clickOn(at(screw.SKU) + " .cart-tick")
	phone.until(`(s) => document.querySelector(s + ' .tick').classList.contains('done')`, at(screw.SKU))
	if g := good(screw.SKU); g.Packs != screw.Quantity {
		t.Errorf("%d are in the cart, not %d", g.Packs, screw.Quantity)
	}

	before := s.planOf(2)
	phone.clickOn(at(board.SKU) + " summary")
	phone.clickOn(at(board.SKU) + ` button[value=none]`)
	phone.until(`() => document.querySelector('.told')?.textContent.includes('planned anew')`)
	after := s.planOf(2)
	changes, more := after.Instead(before)
	told := phone.text(`.told`)
	if !slices.Contains(after.Design.Without, board.SKU) || len(changes) < 2 || more <= 0 {
		t.Fatalf("without %s: %v, %v", board.SKU, changes, more)
	}
	for _, c := range changes {
		if !strings.Contains(told, c.Words()) {
			t.Errorf("it is not told: %s; but %s", c.Words(), told)
		}
	}
	soil := lines()
	dear := soil[slices.IndexFunc(soil, func(l cost.Line) bool { return l.Group == cost.Soil })]
	phone.clickOn(at(dear.SKU) + " summary")
	phone.fill(at(dear.SKU)+` input[name=paid]`, "lots")
	phone.clickOn(at(dear.SKU) + ` button[value=paid]`)
	phone.until(`(s) => document.querySelector(s + ' .error')`, at(dear.SKU))
	if got := phone.MustElement(at(dear.SKU) + ` input[name=paid]`).MustProperty("value").String(); got != "lots" {
		t.Errorf("what was typed became %q", got)
	}
	phone.fill(at(dear.SKU)+` input[name=paid]`, "9.50")
	phone.clickOn(at(dear.SKU) + ` button[value=paid]`)
	phone.until(`(s) => document.querySelector(s + ' .tick').classList.contains('done')`, at(dear.SKU))
	if price := s.planOf(2).Design.Prices[dear.SKU]; price != 950 || *good(dear.SKU).Paid != 950 {
		t.Errorf("it was paid 9.50 for, and counts %v", price)
	}
	card := "cardboard"
	phone.clickOn(at(card) + " summary")
	phone.clickOn(at(card) + ` button[value=none]`)
	phone.until(`() => document.querySelector('.told')?.textContent.includes('stays on the list')`)
	if !good(card).Lacked || len(s.planOf(2).Design.Without) != 1 {
		t.Error("that there is none is not kept")
	}
	phone.clean("the shop, with what it has not")

	phone.clickOn(`[data-take]`)
	phone.until(`() => document.querySelector('.along-kept').textContent.startsWith('All ')`)
	cable.out()
	phone.clickOn(at(card) + " .cart-tick") // another shop has it
	phone.until(`() => document.querySelector('.along-waits').textContent.startsWith('One tick waits')`)
	phone.until(`(s) => document.querySelector(s + ' .tick').classList.contains('done')`, at(card))
	phone.MustNavigate("http://" + cable.addr + "/p/2/shop")
	phone.until(`(s) => document.querySelector(s + ' .tick')?.classList.contains('done')`, at(card))
	if good(card).Packs > 0 {
		t.Error("a tick came through a cable that is pulled")
	}
	cable.in()
	phone.MustNavigate("http://" + cable.addr + "/p/2/shop")
	phone.until(`() => document.querySelector('.along-waits')?.textContent === ''`)
	if g := good(card); g.Packs != 1 || g.Lacked {
		t.Errorf("it has not arrived: %+v", g)
	}
	// Half the bed: what is in the cart is too much, or needed no more.
	s.post("/p/2/edit", url.Values{"stage": {"bed"}, "length": {"3 ft"}, "set": {"b1>cap=none"}})
	page, _ := s.get("/p/2/shop")
	has(t, page, "Not needed any more")
	if !strings.Contains(page, "too many") {
		t.Log("nothing is too many")
	}
	page, _ = s.get("/p/2/log")
	has(t, page, "none there: ", "paid: ")
	s.post("/p/2/cart", url.Values{"tick": {"cart:" + board.SKU}, "how": {"there"}})
	if len(s.planOf(2).Design.Without) > 0 {
		t.Error("it is there again, and the plan does without")
	}
	if _, code := s.post("/p/2/cart", url.Values{"tick": {"cart:moonstone"}, "done": {"yes"}}); code != 400 {
		t.Errorf("what is not on the list: %d", code)
	}
}

// In the drive a piece is spoilt, and a block broken: what has to be bought for it is said, and the ticks of what that
// does not touch stay. A size is other than planned, and a photo is kept, made small and without its place; all of it
// goes with the project's file and comes back from it.
func TestItWentWrong(t *testing.T) {
	b := browser(t)
	s := newSite(t)
	for _, st := range []string{"buy", "cut", "lay-out"} {
		s.post("/p/2/tick", url.Values{"tick": {st}, "done": {"yes"}})
	}
	p := s.tab(b, "/p/2/build?step=b1.make-up.ends", 390, 844)
	p.ready("build")
	before := s.planOf(2)
	p.clickOn(`.wrong summary`)
	letter := p.MustElement(`.wrong button[name=letter]`).MustProperty("value").String()
	p.clickOn(`.wrong button[name=letter]`)
	p.until(`(l) => document.querySelector('.told')?.textContent.includes('One ' + l + ' is cut again')`, letter)
	list, _ := s.planOf(2).Instead(before)
	for _, c := range list {
		if !strings.Contains(p.text(`.told`), c.Words()) {
			t.Errorf("%s is not told: %s", c.Words(), p.text(`.told`))
		}
	}
	if got := p.text(`[data-count]`); got != "3" && got != "2" { // what is brought is another number of boards
		t.Errorf("%s are done", got)
	}
	p.MustEval(`() => document.querySelectorAll('.wrong')[1].open = true`)
	p.fill(`#size-what`, "The short side")
	p.fill(`#size-measured`, "so long")
	p.clickOn(`form[action$="/differs"] button`)
	p.until(`() => document.getElementById('err-size-measured')`)
	p.fill(`#size-planned`, "3 ft")
	p.fill(`#size-measured`, "2 ft 11 1/2 in")
	p.clickOn(`form[action$="/differs"] button`)
	p.until(`() => !document.getElementById('err-size-measured')`)
	p.clean("a step where it is different")
	page, _ := s.get("/p/2/log")
	has(t, page, "The short side", "1/2</span> in less than planned")

	var shot bytes.Buffer
	if err := jpeg.Encode(&shot, image.NewGray(image.Rect(0, 0, 2400, 1800)), nil); err != nil {
		t.Fatal(err)
	}
	send := func(raw []byte, caption string) (string, int) {
		var body bytes.Buffer
		m := multipart.NewWriter(&body)
		for k, v := range map[string]string{"step": "b1.make-up.ends", "caption": caption, "stage": "build"} {
			if err := m.WriteField(k, v); err != nil {
				t.Fatal(err)
			}
		}
		w, err := m.CreateFormFile("photo", "x.jpg")
		if err == nil {
			_, err = w.Write(raw)
		}
		if err != nil || m.Close() != nil {
			t.Fatal(err)
		}
		r, err := s.Client().Post(s.URL+"/p/2/photos", m.FormDataContentType(), &body)
		if err != nil {
			t.Fatal(err)
		}
		return s.read(r)
	}
	if page, code := send([]byte("no photo"), "a corner"); code != 422 || !strings.Contains(page, "JPEG and PNG work") ||
		!strings.Contains(page, `value="a corner"`) {
		t.Errorf("what is no photo: %d", code)
	}
	for n := range store.MostPhotos + 1 {
		if page, code := send(shot.Bytes(), fmt.Sprintf("corner %d", n)); n == store.MostPhotos &&
			(code != 422 || !strings.Contains(page, "take one away first")) {
			t.Errorf("one photo too many: %d", code)
		}
	}
	raw, _ := s.get("/p/2/files/project.chamfer.json")
	if len(raw) < 10_000 || len(raw) > 3<<20 {
		t.Errorf("a file of %d bytes", len(raw))
	}
	s.upload("again.chamfer.json", []byte(raw))
	all, err := s.store.List(t.Context(), store.Scope{Household: store.Home}, store.After{}, "", 10)
	if err != nil {
		t.Fatal(err)
	}
	photos, err := s.store.Photos(t.Context(), all[0].ID, false)
	sizes, err2 := s.store.Sizes(t.Context(), all[0].ID)
	if err != nil || err2 != nil || len(photos) != store.MostPhotos || photos[3].Caption != "corner 3" ||
		photos[3].Key != "b1.make-up.ends" || photos[3].Width != 1280 || len(sizes) != 1 {
		t.Errorf("read back there are %d photos and %d sizes: %v, %v", len(photos), len(sizes), err, err2)
	}
	page, _ = s.get(fmt.Sprintf("/p/%d/log", all[0].ID))
	link := regexp.MustCompile(`/p/\d+/photo/\d+`).FindString(page)
	if _, code := s.get(link); code != http.StatusOK {
		t.Errorf("%s: %d", link, code)
	}
	if _, code := s.get(strings.Replace(link, fmt.Sprintf("/p/%d/", all[0].ID), "/p/1/", 1)); code != 404 {
		t.Errorf("a photo of another project: %d", code)
	}
	s.post("/p/2/photos", url.Values{"drop": {"1"}})
	if left, _ := s.store.Photos(t.Context(), 2, false); len(left) != store.MostPhotos-1 {
		t.Errorf("%d photos after one was taken away", len(left))
	}

	walls := s.planOf(4)
	u := walls.Laying.Units[0]
	page, code := s.post("/p/4/spoilt", url.Values{"unit": {u.Unit.ID}})
	if code != 200 || !strings.Contains(page, "One of the spares stands in for it") {
		t.Errorf("a broken block: %d", code)
	}
	for range u.Spare {
		page, _ = s.post("/p/4/spoilt", url.Values{"unit": {u.Unit.ID}})
	}
	has(t, page, "There is no spare left for it", "On the shopping list: ")
	if got := s.planOf(4).Laying.Units[0].Buy; got != u.Buy+1 {
		t.Errorf("%d blocks to buy, not %d", got, u.Buy+1)
	}
}

// What was left is written down, refused with what can be read; what is learnt of it says both values, how many and the
// rule, changes nothing until it is taken, and then the plans of the household count on it. All of it on a phone.
func TestLearning(t *testing.T) {
	s := newSite(t)
	p := s.planOf(2)
	screws := p.Fixings.Needs[0]
	soil := p.Fill.Needs[0].Way().Fill
	page, code := s.post("/p/2/left", url.Values{"left:" + screws.Fixing.ID: {"some"}, "sunk:b1": {"9 ft"},
		"kerf:cuts": {"5"},
		"kerf:lost": {"3 in"}})
	if code != 422 {
		t.Errorf("nonsense is taken: %d", code)
	}
	has(t, page, "is no number of pieces", "cannot have sunk by", "No saw takes", `value="some"`)
	if list, _ := s.store.Goods(t.Context(), 2); len(list) > 0 {
		t.Error("something of it was kept")
	}
	balance := p.Balance()
	of := balance[slices.IndexFunc(balance, func(b plan.Balanced) bool { return b.Item == screws.Fixing.ID })]
	rest := of.Bought + of.Owned - of.Used // all the spare ones are left: none was lost
	// On a phone, with the thumb: what was left, how far it sank, what the saw took.
	phone := s.tab(browser(t), "/p/2/log", 390, 844)
	phone.ready("log")
	shows := func(words string) {
		phone.until(`(w) => document.querySelector('.used').textContent.includes(w)`, words)
	}
	phone.fill(`[name="left:`+screws.Fixing.ID+`"]`, fmt.Sprint(rest))
	phone.fill(`[name="left:`+soil.ID+`"]`, "1/2")
	phone.fill(`[name="sunk:b1"]`, "1 1/2 in")
	phone.fill(`[name="kerf:lost"]`, "1/2 in")
	phone.clickOn(`form[action$="/left"] > button.button`)
	for _, words := range []string{"1 bed of your own", "5 cuts of your own",
		fmt.Sprintf("%d fixings of your own: 0.0 %%", screws.Count), "The published 5.0 % counts as 200 fixings"} {
		shows(words)
	}
	phone.clean("what was used, on a phone")
	shop := func() plan.Shop { return s.planOf(2).Shop }
	if shop().Habits != p.Shop.Habits {
		t.Error("something was learnt that nobody took")
	}
	for k := range 3 {
		left := phone.MustElements(`form[action$="/learn"]`)
		if len(left) != 3-k {
			t.Fatalf("%d things can be learnt, not %d", len(left), 3-k)
		}
		phone.clickOn(`form[action$="/learn"] button`)
		phone.until(`(n) => document.querySelectorAll('form[action$="/learn"]').length === n`, 2-k)
	}
	sizes, err := s.store.Sizes(t.Context(), 2)
	if err != nil {
		t.Fatal(err)
	}
	deep := p.Deep("b1")
	e, _ := record.Settling([]record.Sank{{Deep: deep, Sunk: 3 * 25400000 / 2}}, p.Shop.Habits.SettlingPerMille, 0)
	h := shop().Habits
	if want := 50 * 200 / (200 + screws.Count); h.SparePerMille < want-1 || h.SparePerMille > want+1 ||
		h.SettlingPerMille != e.PerMille() || h.Kerf >= p.Shop.Habits.Kerf || len(sizes) != 2 {
		t.Errorf("the habits are %+v; %d sizes", h, len(sizes))
	}
	if got := s.planOf(2).Fill.Order; got == p.Fill.Order {
		t.Error("as much soil is ordered as before")
	}
	if _, code := s.post("/p/2/learn", url.Values{"key": {"nothing"}}); code != 400 {
		t.Errorf("what cannot be learnt: %d", code)
	}
	// What was left cannot be more than there was.
	page, _ = s.post("/p/2/left", url.Values{"left:" + screws.Fixing.ID: {"99999"}})
	has(t, page, "There never was that much of it")
	page, _ = s.get("/p/2/log")
	if link := regexp.MustCompile(`/p/2/version/\d+\.svg`).FindString(page); link == "" {
		t.Error("no version is drawn")
	} else if svg, code := s.get(link); code != 200 || !strings.HasPrefix(svg, "<svg") {
		t.Errorf("%s: %d, %.80s", link, code, svg)
	}
}
