package web

import (
	"cmp"
	"context"
	"errors"
	"fmt"
	"html/template"
	"io"
	"net/http"
	"net/url"
	"slices"
	"strconv"
	"strings"
	"time"

	"github.com/gin-gonic/gin"

	"chamfer/core/catalog"
	"chamfer/core/cost"
	"chamfer/core/measure"
	"chamfer/core/money"
	"chamfer/core/words"
	"chamfer/draw"
	"chamfer/instrument"
	"chamfer/people"
	"chamfer/store"
)

// shopsPage is a household's price book in a region.
type shopsPage struct {
	Title, Region, Symbol string
	Regions               []viewLink
	Said, Error           string
	Shops                 []shopView
	New                   shopView
	Note                  noteView
	Wares                 []wareView // that can be named
	Lines                 []bookLine
	Hand                  *wareInHand
	Plugged, Changes      bool
	Notes                 bool // prices may be taken down
	Full                  bool
	ListNo                string
}

// shopView is one shop, as it is changed.
type shopView struct {
	ID                     int64
	Name, Fee, Free, Least string
	Brings, Feed           bool
	Says, Told, Age, Error string
	Prices                 int
}

// noteView is the form by which a price is written down, with what was typed and refused.
type noteView struct {
	Item, Price, Left, Seen string
	Shop                    int64
	Taxed                   bool
	Error                   string
	Like                    []wareView
}

type wareView struct{ SKU, Name, Unit, Link string }

// bookLine is a thing with a price, at the shop that asks least.
type bookLine struct {
	wareView
	Price, At, Age string
	Others         int
	Now            bool
}

// wareInHand is one thing with all its prices side by side.
type wareInHand struct {
	wareView
	Rates  []string
	Prices []pricedAt
}

type pricedAt struct {
	Shop                int64
	At, Price, Tax, Has string
	Rates               []string
	Age                 string
	Drawn               template.HTML
	Before              []string
	Best, Own           bool
}

// shopSaid are what is said once something was done.
var shopSaid = map[string]string{"price": "The price is written down.", "shop": "The shop is written down.",
	"gone": "The shop is out of the book, and its prices with it.", "dropped": "That price is out of the book.",
	"list": "The list is in the book.", "asked": "The shop answered, and its prices are in the book."}

// shops shows the price book.
func (s *Server) shops(c *gin.Context) {
	s.shopsForm(c, http.StatusOK, shopsPage{Region: c.Query("region"), Said: shopSaid[c.Query("said")],
		Note: noteView{Item: c.Query("item")}})
}

// regionOf is a region that is asked for, or the first.
func regionOf(id string) *catalog.Catalog {
	if cat, err := catalog.ForRegion(id); err == nil {
		return cat
	}
	return catalog.Regions()[0]
}

func (s *Server) shopsForm(c *gin.Context, status int, page shopsPage) {
	v := visitorOf(c)
	cat := regionOf(page.Region)
	ctx := asked(c)
	habits, err := s.store.Habits(ctx, v.Household, cat)
	if err != nil {
		s.trouble(c, err)
		return
	}
	shops, err := s.store.BookShops(ctx, v.Household, cat.ID)
	if err != nil {
		s.trouble(c, err)
		return
	}
	book, err := s.store.Book(ctx, v.Household, cat.ID)
	if err != nil {
		s.trouble(c, err)
		return
	}
	leaves(c, book)
	cur := cat.Currency
	if habits.CurrencySymbol != "" {
		cur.Symbol = habits.CurrencySymbol
	}
	page.Title, page.Region, page.Symbol = "Shops and prices", cat.ID, cur.Symbol
	page.Plugged, page.Changes = s.reads.Supplier != "", v.Role.May(people.Design)
	page.Notes = v.Role.May(people.TakeDown)
	page.Full = len(shops) >= cost.MostShops
	for _, r := range catalog.Regions() {
		page.Regions = append(page.Regions, viewLink{r.Name, "/shops?region=" + r.ID, r.ID == cat.ID})
	}
	now := time.Now()
	for _, x := range shops {
		one := shopView{ID: x.ID, Name: x.Name, Fee: x.Fee.String(), Free: x.Free.String(), Least: x.Least.String(),
			Brings: x.Brings, Feed: x.Feed, Told: x.Told}
		for _, q := range book.Quotes {
			if q.Shop == x.ID {
				one.Prices++
			}
		}
		one.Says = shopSays(x.Shop, cur.Format)
		if at, err := time.Parse(time.RFC3339, x.ToldAt); err == nil {
			one.Age = sinceThen(now.Sub(at))
		}
		if page.New.ID == x.ID { // that was changed and refused
			one.Name, one.Fee, one.Free, one.Least = page.New.Name, page.New.Fee, page.New.Free, page.New.Least
			one.Brings, one.Feed, one.Error = page.New.Brings, page.New.Feed, page.New.Error
		}
		page.Shops = append(page.Shops, one)
	}
	if page.New.ID != 0 {
		page.New = shopView{}
	}
	wares := cat.Wares()
	named := map[string]catalog.Ware{}
	for _, w := range wares {
		named[w.SKU] = w
		page.Wares = append(page.Wares, wareAs(w, cat.ID))
	}
	if w, like := wareNamed(wares, page.Note.Item); w.SKU != "" {
		if page.Hand, err = s.inHand(ctx, v.Household, cat, habits, w, book, now); err != nil {
			s.trouble(c, err)
			return
		}
		if page.Note.Error == "" {
			page.Note.Item = wareAs(w, cat.ID).Name
		}
	} else if page.Note.Item != "" {
		for _, w := range like {
			page.Note.Like = append(page.Note.Like, wareAs(w, cat.ID))
		}
	}
	page.Lines = bookLines(book, named, habits.TaxBasisPoints, cat.ID, cur.Format, now)
	for i := range page.Lines {
		page.Lines[i].Now = page.Hand != nil && page.Hand.SKU == page.Lines[i].SKU
	}
	s.show(c, status, "shops.html", page)
}

// shopSays is what going to a shop costs, in words.
func shopSays(x cost.Shop, sum func(money.Amount) string) string {
	var says []string
	if x.Brings {
		says = append(says, "brings it for "+sum(x.Fee))
		if x.Free > 0 {
			says = append(says, "for nothing from "+sum(x.Free))
		}
	} else {
		says = append(says, sum(x.Fee)+" there and back")
	}
	if x.Least > 0 {
		says = append(says, "sells nothing below "+sum(x.Least))
	}
	return strings.Join(says, "; ")
}

// sinceThen says how long ago something was.
func sinceThen(d time.Duration) string {
	switch {
	case d < 2*time.Minute:
		return "just now"
	case d < 2*time.Hour:
		return measure.Count(int(d.Minutes()), "minute") + " ago"
	case d < 48*time.Hour:
		return measure.Count(int(d.Hours()), "hour") + " ago"
	}
	return measure.Count(int(d.Hours()/24), "day") + " ago"
}

func wareAs(w catalog.Ware, region string) wareView {
	return wareView{w.SKU, w.Name + " (" + w.Unit + ")", w.Unit,
		"/shops?region=" + region + "&item=" + url.QueryEscape(w.SKU) + "#hand"}
}

// bookLines are what has a price, each at the shop that asks least of those that have some.
func bookLines(book cost.Book, named map[string]catalog.Ware, rate int, region string, sum func(money.Amount) string,
	now time.Time) (list []bookLine) {
	shops := map[int64]string{}
	for _, x := range book.Shops {
		shops[x.ID] = x.Name
	}
	for _, best := range book.Cheapest(rate) {
		w, ok := named[best.SKU]
		if !ok {
			continue
		}
		list = append(list, bookLine{wareView: wareAs(w, region), Price: sum(best.Net(rate)), At: shops[best.Shop],
			Age: daysOld(time.Duration(best.Age(now)) * 24 * time.Hour), Others: best.Others})
	}
	slices.SortStableFunc(list, func(a, b bookLine) int { return strings.Compare(a.Name, b.Name) })
	return list
}

// inHand is one thing with its prices at every shop.
func (s *Server) inHand(ctx context.Context, household int64, cat *catalog.Catalog, habits catalog.Habits,
	w catalog.Ware, book cost.Book, now time.Time) (*wareInHand, error) {
	seen, err := s.store.PriceHistory(ctx, household, cat.ID, w.SKU)
	if err != nil {
		return nil, err
	}
	rate, cur := habits.TaxBasisPoints, cat.Currency
	cur.Symbol = cmp.Or(habits.CurrencySymbol, cur.Symbol)
	h := &wareInHand{wareView: wareAs(w, cat.ID)}
	for _, r := range w.Rates(w.Price, cat.System) {
		h.Rates = append(h.Rates, "a "+r.Of)
	}
	rates := func(p money.Amount) (list []string) {
		for _, r := range w.Rates(p, cat.System) {
			list = append(list, cur.Format(r.Price))
		}
		return list
	}
	cheapest := money.Amount(-1)
	for _, best := range book.Cheapest(rate) {
		if best.SKU == w.SKU && best.Left != 0 {
			cheapest = best.Net(rate)
		}
	}
	say := func(day string) string {
		at, err := time.Parse(time.DateOnly, day)
		if err != nil {
			return day
		}
		return words.Speech{American: cat.American}.Day(at)
	}
	for _, x := range book.Shops {
		var list []draw.Priced
		one := pricedAt{Shop: x.ID, At: x.Name}
		for _, q := range seen {
			if q.Shop != x.ID {
				continue
			}
			at, err := time.ParseInLocation(time.DateOnly, q.Seen, now.Location())
			if err != nil {
				continue
			}
			list = append(list, draw.Priced{Price: q.Net(rate), On: at})
			one.Before = append(one.Before, cur.Format(q.Net(rate))+" on "+say(q.Seen))
			one.Price, one.Rates, one.Tax = cur.Format(q.Net(rate)), rates(q.Net(rate)), ""
			one.Best = q.Net(rate) == cheapest && q.Left != 0
			if q.Taxed {
				one.Tax = cur.Format(q.Price) + " with tax"
			}
			one.Has = ""
			if q.Left >= 0 {
				one.Has = strconv.Itoa(q.Left)
			}
			one.Age = daysOld(time.Duration(q.Age(now)) * 24 * time.Hour)
		}
		if len(list) == 0 {
			continue
		}
		if len(list) > 1 {
			one.Drawn = template.HTML(draw.Prices(list, now, draw.Sheet{W: 180, H: 40, Font: 12}))
		}
		h.Prices = append(h.Prices, one)
	}
	h.Prices = append(h.Prices, pricedAt{At: "the catalogue, invented", Own: true, Price: cur.Format(w.Price),
		Rates: rates(w.Price)})
	return h, nil
}

// wareNamed is what a text means: a number, a name, or words that only one name has; else some that have them.
func wareNamed(wares []catalog.Ware, text string) (w catalog.Ware, like []catalog.Ware) {
	text = strings.TrimSpace(text)
	asks := strings.Fields(strings.ToLower(strings.NewReplacer("(", " ", ")", " ", ",", " ").Replace(text)))
	if len(asks) == 0 {
		return w, nil
	}
	for _, x := range wares {
		if x.SKU == text || wareAs(x, "").Name == text {
			return x, nil
		}
		has := strings.ToLower(strings.NewReplacer("(", " ", ")", " ", ",", " ").Replace(wareAs(x, "").Name)) + " "
		if !slices.ContainsFunc(asks, func(word string) bool { return !strings.Contains(has, word) }) {
			like = append(like, x)
		}
	}
	if len(like) == 1 {
		return like[0], nil
	}
	return w, like[:min(8, len(like))]
}

// setShops writes down what was seen in a shop, a shop, or a list of prices.
func (s *Server) setShops(c *gin.Context) {
	v := visitorOf(c)
	cat := regionOf(c.PostForm("region"))
	page := shopsPage{Region: cat.ID}
	done := func(said, item string) {
		c.Redirect(http.StatusSeeOther, "/shops?region="+cat.ID+"&said="+said+map[bool]string{true: "&item=" +
			url.QueryEscape(item) + "#hand"}[item != ""])
	}
	id, _ := strconv.ParseInt(c.PostForm("shop"), 10, 64)
	how := c.PostForm("how")
	if how != "price" && how != "ask" && !v.Role.May(people.Design) { // prices are taken down, shops are decided
		s.barred(c, v.Role, people.Design)
		return
	}
	switch how {
	case "price":
		s.notePrice(c, cat, id, done)
	case "shop":
		x, view := readShop(c, id)
		err := x.Check()
		if view.Error == "" && err != nil {
			view.Error = err.Error()
		}
		if view.Error == "" {
			if _, err = s.store.PutShop(v.Household, cat.ID, x); err == nil {
				done("shop", "")
				return
			}
			view.Error = bookFault(err)
		}
		if view.Error == "" {
			s.trouble(c, err)
			return
		}
		view.Error = sentence(view.Error)
		page.New = view
		s.shopsForm(c, http.StatusUnprocessableEntity, page)
	case "drop-shop":
		if err := s.store.DropShop(v.Household, id); err != nil {
			s.trouble(c, err)
			return
		}
		done("gone", "")
	case "drop-price":
		if err := s.store.DropPrice(v.Household, id, c.PostForm("item")); err != nil {
			s.trouble(c, err)
			return
		}
		done("dropped", c.PostForm("item"))
	case "ask":
		s.askShop(c, cat, id, done)
	case "list":
		s.takeList(c, cat, done)
	default:
		s.fault(c, http.StatusBadRequest, "That is nothing that can be done with shops.",
			"Nothing was changed: go back to the page of shops.")
	}
}

// bookFault is what of a fault of the book can be mended by whoever typed; "" where nothing can.
func bookFault(err error) string {
	switch {
	case errors.Is(err, store.ErrFull):
		return fmt.Sprintf("the book holds up to %d shops: take one out first", cost.MostShops)
	case errors.Is(err, store.ErrSameShop), errors.Is(err, store.ErrNoShop):
		return err.Error()
	}
	return ""
}

func readShop(c *gin.Context, id int64) (x cost.Shop, v shopView) {
	text := func(key string) string { return strings.TrimSpace(c.PostForm(key)) }
	x = cost.Shop{ID: id, Name: text("name"), Brings: c.PostForm("brings") == "yes", Feed: c.PostForm("feed") == "yes"}
	v = shopView{ID: id, Name: x.Name, Fee: text("fee"), Free: text("free"), Least: text("least"), Brings: x.Brings,
		Feed: x.Feed}
	for _, f := range []struct {
		text string
		into *money.Amount
	}{{v.Fee, &x.Fee}, {v.Free, &x.Free}, {v.Least, &x.Least}} {
		if f.text == "" {
			continue
		}
		a, err := money.Parse(f.text)
		if err != nil && v.Error == "" {
			v.Error = err.Error()
		}
		*f.into = a
	}
	return x, v
}

// notePrice writes one price down.
func (s *Server) notePrice(c *gin.Context, cat *catalog.Catalog, shop int64, done func(said, item string)) {
	v := visitorOf(c)
	text := func(key string) string { return strings.TrimSpace(c.PostForm(key)) }
	note := noteView{Item: text("item"), Price: text("price"), Left: text("left"), Seen: text("seen"), Shop: shop,
		Taxed: c.PostForm("taxed") == "yes"}
	shops, err := s.store.BookShops(asked(c), v.Household, cat.ID)
	if err != nil {
		s.trouble(c, err)
		return
	}
	q := cost.Quote{Shop: shop, Taxed: note.Taxed, Left: catalog.Plenty,
		Seen: cmp.Or(note.Seen, time.Now().Format(time.DateOnly))}
	refuse := func(reason string) {
		note.Error = sentence(reason)
		s.shopsForm(c, http.StatusUnprocessableEntity, shopsPage{Region: cat.ID, Note: note})
	}
	w, like := wareNamed(cat.Wares(), note.Item)
	i := slices.IndexFunc(shops, func(x store.BookShop) bool { return x.ID == shop })
	switch {
	case w.SKU == "" && len(like) == 0:
		refuse(fmt.Sprintf("nothing is sold here that is called %q: 2x6 cedar 8 ft works", note.Item))
		return
	case w.SKU == "":
		refuse("more than one thing is called that: choose one below")
		return
	case i < 0:
		refuse("say at which shop: write one down first")
		return
	}
	q.SKU = w.SKU
	if q.Price, err = money.Parse(note.Price); err != nil {
		refuse(err.Error())
		return
	}
	if note.Left != "" {
		if q.Left, err = strconv.Atoi(note.Left); err != nil || q.Left < 0 {
			refuse(fmt.Sprintf("%q is no number of things; 12 works, or nothing", note.Left))
			return
		}
	}
	if err := q.Check(cat); err != nil {
		refuse(err.Error())
		return
	}
	if err := s.store.NotePrices(v.Household, cat.ID, []cost.Priced{{At: shops[i].Name, Quote: q}}); err != nil {
		s.trouble(c, err)
		return
	}
	done("price", q.SKU)
}

// takeList takes in a list of prices, from a file.
func (s *Server) takeList(c *gin.Context, cat *catalog.Catalog, done func(said, item string)) {
	refuse := func(reason string) {
		s.shopsForm(c, http.StatusUnprocessableEntity, shopsPage{Region: cat.ID,
			ListNo: sentence(reason) + " Nothing was taken in."})
	}
	file, _, err := c.Request.FormFile("file")
	if err != nil {
		refuse("no file was chosen")
		return
	}
	raw, err := io.ReadAll(io.LimitReader(file, maxForm))
	if fault := file.Close(); err != nil || fault != nil {
		refuse("the file could not be read to its end")
		return
	}
	list, err := cost.ReadPrices(strings.NewReader(string(raw)), cat, time.Now().Format(time.DateOnly))
	if err != nil {
		refuse(err.Error())
		return
	}
	if err := s.store.NotePrices(visitorOf(c).Household, cat.ID, list); err != nil {
		if text := bookFault(err); text != "" {
			refuse(text)
			return
		}
		s.trouble(c, err)
		return
	}
	done("list", "")
}

// pricesFile hands the price book over as a list.
func (s *Server) pricesFile(c *gin.Context) {
	cat := regionOf(c.Query("region"))
	book, err := s.store.Book(asked(c), visitorOf(c).Household, cat.ID)
	if err != nil {
		s.trouble(c, err)
		return
	}
	var out strings.Builder
	if err := book.WritePrices(&out, cat); err != nil {
		s.trouble(c, err)
		return
	}
	attach(c, "prices.csv", "text/csv; charset=utf-8", []byte(out.String()))
}

// askTime is how long a supplier may take in all.
const askTime = 25 * time.Second

// askShop asks the supplier that is plugged in what it asks, in the name of a shop of the book. Where it does not
// answer
// its last prices stand, and it is said that they do.
func (s *Server) askShop(c *gin.Context, cat *catalog.Catalog, id int64, done func(said, item string)) {
	v := visitorOf(c)
	shops, err := s.store.BookShops(asked(c), v.Household, cat.ID)
	if err != nil {
		s.trouble(c, err)
		return
	}
	i := slices.IndexFunc(shops, func(x store.BookShop) bool { return x.ID == id && x.Feed })
	if i < 0 || s.reads.Supplier == "" {
		s.fault(c, http.StatusUnprocessableEntity, "That shop does not answer by itself.",
			"Write its prices down by hand, or start Chamfer with --supplier and its address.")
		return
	}
	ctx, cancel := context.WithTimeout(c.Request.Context(), askTime)
	defer cancel()
	told := ""
	if err := s.supplied(ctx, v.Household, cat, shops[i].Shop); err != nil {
		told = reason(err)
	}
	if err := s.store.ShopTold(v.Household, id, told); err != nil {
		s.trouble(c, err)
		return
	}
	if told != "" {
		s.shopsForm(c, http.StatusBadGateway, shopsPage{Region: cat.ID,
			Error: sentence(shops[i].Name+": "+told) + " Its last prices stand, each with its age."})
		return
	}
	done("asked", "")
}

// supplied asks the supplier and writes down what it told.
func (s *Server) supplied(ctx context.Context, household int64, cat *catalog.Catalog, x cost.Shop) error {
	got, err := instrument.NewSupplier(s.reads.Supplier).Supplies(ctx, cat.ID)
	if err != nil {
		return err
	}
	book, err := s.store.Book(ctx, household, cat.ID)
	if err != nil {
		return err
	}
	today := time.Now().Format(time.DateOnly)
	var list []cost.Priced
	told := map[string]bool{}
	for _, w := range got.Wares {
		q := cost.Quote{Shop: x.ID, SKU: w.Item, Price: w.Price, Taxed: w.Taxed, Left: w.Left, Seen: today}
		if q.Check(cat) == nil {
			told[w.Item] = true
			list = append(list, cost.Priced{At: x.Name, Quote: q})
		}
	}
	for _, q := range book.Quotes { // what it sold and sells no more
		if q.Shop == x.ID && !told[q.SKU] {
			q.Left, q.Seen = 0, today
			list = append(list, cost.Priced{At: x.Name, Quote: q})
		}
	}
	x.Least = got.Least
	for i, slot := range got.Slots {
		if i == 0 || slot.Fee < x.Fee {
			x.Brings, x.Fee, x.Free = true, slot.Fee, slot.Free
		}
	}
	if err := x.Check(); err != nil {
		return err
	}
	if _, err := s.store.PutShop(household, cat.ID, x); err != nil {
		return err
	}
	return s.store.NotePrices(household, cat.ID, list)
}
