package web

import (
	"context"
	"errors"
	"fmt"
	"net/http"
	"slices"
	"strings"
	"time"

	"github.com/gin-gonic/gin"

	"chamfer/core/catalog"
	"chamfer/core/cost"
	"chamfer/core/design"
	"chamfer/core/measure"
	"chamfer/core/money"
	"chamfer/core/plan"
	"chamfer/instrument"
	"chamfer/people"
	"chamfer/store"
)

// wherePage is where everything is bought for the least.
type wherePage struct {
	Title, Back, Name string
	ID, Rev           int64
	Region            string
	Said, Error       string
	Claim             string
	Best              *buyView
	Ways              []buyView
	Facts             []string
	Elsewhere         string
	None              bool // no shop has a price yet
	Changes           bool
	Slots             []slotView
	Quote             *quoteView
	Feed              string // the shop that answers by itself, where one is plugged in
}

// buyView is one way to buy everything.
type buyView struct {
	Words, Bill, Going, Total, More string
	Not                             []string // why it cannot be done like this
	Shops                           []string
	Exact                           string // its total, as a form says it
	Lists                           []listAt
	Now                             bool
	Able                            bool
}

type listAt struct {
	At, Sum, Says string
	Lines         []lineAt
}

type lineAt struct{ Words, Sum string }

type slotView struct{ ID, Words string }

// quoteView is what a supplier would sell a list for.
type quoteView struct {
	ID, Until, Goods, Delivery, Total string
	Lines                             []string
	Short                             []string
	Asked                             string
}

// where shows where everything is bought.
func (s *Server) whereToBuy(c *gin.Context) { s.wherePage(c, http.StatusOK, wherePage{}) }

func (s *Server) wherePage(c *gin.Context, status int, page wherePage) {
	p, pl, ok := s.planned(c)
	if !ok {
		return
	}
	page.Title, page.Name, page.ID, page.Rev = "Where to buy it", p.Design.Name, p.ID, p.Head
	page.Back, page.Region = fmt.Sprintf("/p/%d/bill", p.ID), p.Design.Region
	page.Changes = may(c, people.Design)
	ctx := c.Request.Context()
	book, ok := s.bookOf(c, p)
	if !ok {
		return
	}
	leaves(c, book)
	var err error
	for _, x := range book.Shops {
		if x.Feed && s.reads.Supplier != "" {
			page.Feed = x.Name
		}
	}
	var out plan.Buying
	err = planned(func() (err error) { out, err = pl.Where(ctx, book); return err })
	switch {
	case ctx.Err() != nil:
		c.Abort()
		return
	case err != nil:
		page.None, page.Error = len(book.Quotes) == 0, sentence(reason(err))
		if status == http.StatusOK && !page.None {
			status = http.StatusUnprocessableEntity
		}
		s.show(c, status, "where.html", page)
		return
	}
	cur := pl.Shop.Currency()
	page.Claim = sentence(out.Claim(cur))
	now := pl.Moved(book)
	for i, v := range out.Ways {
		w := buyOf(v, cur)
		w.Now = len(now) == 0 && len(v.Edits) > 0 && sameSold(pl.Design, v)
		if i == 0 && v.Able() {
			w.Lists = listsOf(v, cur)
			page.Best = &w
			continue
		}
		if len(out.Best.Shops) > 0 && w.Able {
			w.More = cur.Format(out.More(v)) + " more"
		}
		page.Ways = append(page.Ways, w)
	}
	page.Facts = buyingFacts(out, cur)
	if len(out.Elsewhere) > 0 {
		page.Elsewhere = strings.Join(out.Elsewhere, "; ")
	}
	s.show(c, status, "where.html", page)
}

// bookOf is the price book of a project's household, for its members; whoever came to the project only sees what it
// counts on.
func (s *Server) bookOf(c *gin.Context, p store.Project) (cost.Book, bool) {
	in, err := s.mayShed(c, p.Household, people.Look)
	if err == nil && !in {
		s.fault(c, http.StatusForbidden, "The price book is the household's.",
			"What this project costs at its shops stands on its Bill; a member of the household sees what others ask.")
		return cost.Book{}, false
	}
	var book cost.Book
	if err == nil {
		book, err = s.store.Book(asked(c), p.Household, p.Design.Region)
	}
	if err != nil {
		s.trouble(c, err)
		return book, false
	}
	return book, true
}

// sameSold reports whether a project is bought like this already.
func sameSold(d design.Design, v plan.Visit) bool {
	for _, e := range v.Edits {
		sku, of := strings.CutPrefix(e.Field, "sold:")
		if !of || d.Sold[sku] != e.Value {
			return false
		}
	}
	return true
}

func buyOf(v plan.Visit, cur money.Currency) buyView {
	w := buyView{Words: v.Words(), Bill: cur.Format(v.Bill), Going: cur.Format(v.Going), Total: cur.Format(v.Total),
		Exact: v.Total.String(), Able: v.Able(), Not: slices.Clone(v.Short)}
	for _, x := range v.Shops {
		w.Shops = append(w.Shops, x.Name)
	}
	if w.Words == "" {
		w.Words = "Nothing there"
	}
	if n := len(v.Lacks); n > 0 {
		w.Not = append(w.Not, "there is no "+strings.Join(v.Lacks[:min(3, n)], ", no ")+
			map[bool]string{true: fmt.Sprintf(", nor %d things more", n-3)}[n > 3])
	}
	return w
}

// listsOf are what is bought at each shop.
func listsOf(v plan.Visit, cur money.Currency) (list []listAt) {
	for _, x := range v.Shops {
		one := listAt{At: x.Name, Sum: cur.Format(v.At(x.Name)), Says: shopSays(x, cur.Format)}
		for _, l := range v.Lines {
			if l.At == x.Name {
				one.Lines = append(one.Lines, lineAt{cost.Packs(l.Quantity, l.Unit) + " of " + l.Item, cur.Format(l.Amount)})
			}
		}
		list = append(list, one)
	}
	return list
}

// buyingFacts say what one shop alone would cost, and what going to another saves.
func buyingFacts(out plan.Buying, cur money.Currency) (facts []string) {
	alone, saves, able := out.OneShop()
	switch n := len(out.Best.Shops); {
	case n == 0:
	case !able:
		facts = append(facts, "No shop has everything by itself.")
	case n > 1:
		facts = append(facts, fmt.Sprintf("All at one shop would cost %s: going to %s saves %s.", cur.Format(alone),
			map[bool]string{true: "a second", false: measure.Count(n-1, "shop") + " more"}[n == 2],
			cur.Format(saves)))
	default:
		facts = append(facts, "Going to a second shop saves nothing.")
	}
	return facts
}

// buy takes one way to buy everything: at these shops, for what was told. Where that has moved since, it is said first.
func (s *Server) buy(c *gin.Context) {
	p, pl, ok := s.planned(c)
	if !ok {
		return
	}
	ctx := c.Request.Context()
	book, ok := s.bookOf(c, p)
	if !ok {
		return
	}
	var v plan.Visit
	var err error
	label := "bought at "
	switch names := c.PostFormArray("at"); {
	case c.PostForm("how") == "renew":
		var known bool
		if v, known, err = pl.Renewed(ctx, book); err == nil && !known {
			err = &design.Refusal{Field: "shops", Reason: "none of the shops that it is bought at is in the book any more"}
		}
		label = "prices of today at "
	case c.PostForm("how") == "anywhere":
		v.Edits, label = []design.Edit{{Field: "sold:"}}, "bought anywhere"
	default:
		if v, err = pl.VisitOf(ctx, book, names); err == nil {
			if told, bad := money.Parse(c.PostForm("total")); bad != nil || told != v.Total {
				s.wherePage(c, http.StatusConflict, wherePage{Error: "That is not what it costs any more: prices, or the" +
					" project, have moved since. Nothing was changed; this is how it stands now."})
				return
			}
		}
	}
	if err == nil {
		_, err = s.change(c, p, pl.Shop, v.Edits, label+v.Words())
	}
	if err != nil {
		if len(design.Refusals(err)) == 0 {
			s.trouble(c, err)
			return
		}
		s.wherePage(c, http.StatusUnprocessableEntity, wherePage{Error: sentence(reason(err))})
		return
	}
	s.did(c, label+v.Words())
	c.Redirect(http.StatusSeeOther, fmt.Sprintf("/p/%d/bill", p.ID))
}

// askQuote asks the supplier that is plugged in for a quote of what is bought at its shop. It is no order.
func (s *Server) askQuote(c *gin.Context) {
	p, pl, ok := s.planned(c)
	if !ok {
		return
	}
	book, ok := s.bookOf(c, p)
	if !ok {
		return
	}
	i := slices.IndexFunc(book.Shops, func(x cost.Shop) bool { return x.Feed })
	if i < 0 || s.reads.Supplier == "" {
		s.wherePage(c, http.StatusUnprocessableEntity, wherePage{Error: "No supplier answers by itself: start Chamfer" +
			" with --supplier and its address, and mark its shop in the book."})
		return
	}
	var list []instrument.Wanted
	names := map[string]string{}
	for _, l := range pl.Bill.Lines {
		if sku := catalog.Base(l.SKU); l.At == book.Shops[i].Name && !l.Owned {
			k := slices.IndexFunc(list, func(w instrument.Wanted) bool { return w.Item == sku })
			if names[sku] = l.Item; k >= 0 {
				list[k].Quantity += l.Quantity
				continue
			}
			list = append(list, instrument.Wanted{Item: sku, Quantity: l.Quantity})
		}
	}
	page := wherePage{}
	if len(list) == 0 {
		page.Error = "Nothing on the bill is bought at " + book.Shops[i].Name + ": buy like this first, below."
		s.wherePage(c, http.StatusUnprocessableEntity, page)
		return
	}
	ctx, cancel := context.WithTimeout(c.Request.Context(), askTime)
	defer cancel()
	supplier, cur := instrument.NewSupplier(s.reads.Supplier), pl.Shop.Currency()
	q, err := supplier.Quote(ctx, p.Design.Region, list, strings.TrimSpace(c.PostForm("slot")))
	var no *instrument.Declined
	switch {
	case errors.As(err, &no):
		page.Error = sentence(book.Shops[i].Name + " says: " + no.Reason)
		s.wherePage(c, http.StatusUnprocessableEntity, page)
		return
	case err != nil:
		page.Error = sentence(book.Shops[i].Name+": "+reason(err)) + " The list stands as it is: ask again, or go there."
		s.wherePage(c, http.StatusBadGateway, page)
		return
	}
	say := pl.Shop.Speech()
	page.Quote = &quoteView{ID: q.ID, Until: say.Day(q.Until), Goods: cur.Format(q.Goods),
		Delivery: cur.Format(q.Delivery), Total: cur.Format(q.Total), Asked: say.Day(time.Now())}
	for _, l := range q.Lines {
		page.Quote.Lines = append(page.Quote.Lines, fmt.Sprintf("%d × %s at %s, %s", l.Quantity, names[l.Item],
			cur.Format(l.Price), cur.Format(l.Amount)))
		if l.Short > 0 {
			page.Quote.Short = append(page.Quote.Short, fmt.Sprintf("%d more of %s", l.Short, names[l.Item]))
		}
	}
	if got, err := supplier.Supplies(ctx, p.Design.Region); err == nil {
		for _, x := range got.Slots {
			page.Slots = append(page.Slots, slotView{x.ID, fmt.Sprintf("%s, %d to %d, %s", say.Day(x.From), x.From.Hour(),
				x.To.Hour(), cur.Format(x.Fee))})
		}
	}
	s.wherePage(c, http.StatusOK, page)
}

// moved says how the prices that a project was bought at have moved; "" of nothing where it was bought at none.
func (s *Server) moved(ctx context.Context, b *benchPage) (list []string, err error) {
	if len(b.Plan.Design.Sold) == 0 {
		return nil, nil
	}
	book, err := s.store.Book(ctx, b.Project.Household, b.Plan.Design.Region)
	if err != nil {
		return nil, err
	}
	for _, m := range b.Plan.Moved(book) {
		switch {
		case m.Gone:
			list = append(list, m.At+" has no "+m.Item+" any more.")
		case m.Now != m.Was:
			list = append(list, fmt.Sprintf("%s at %s is %s now, and was %s.", m.Item, m.At, b.P.Money(m.Now),
				b.P.Money(m.Was)))
		}
		if m.Short > 0 {
			list = append(list, fmt.Sprintf("%s has %d too few of %s.", m.At, m.Short, m.Item))
		}
	}
	if n := b.Plan.Anywhere(); len(n) > 0 {
		list = append(list, "Of no shop's price, but the catalogue's: "+strings.Join(n, "; ")+".")
	}
	return list, nil
}

// seenAt takes down in the price book what a thing cost, or that there was none, at the shop it is bought at.
func (s *Server) seenAt(c *gin.Context, p store.Project, l cost.Line, price money.Amount, left int) error {
	book, err := s.store.Book(asked(c), p.Household, p.Design.Region)
	if err != nil {
		return err
	}
	if _, known := book.Named(l.At); !known || l.At == "" {
		return nil
	}
	q := cost.Quote{SKU: catalog.Base(l.SKU), Price: price, Left: left, Seen: time.Now().Format(time.DateOnly)}
	return s.store.NotePrices(p.Household, p.Design.Region, []cost.Priced{{At: l.At, Quote: q}})
}

// atShops turns prices that are written in, of things that are bought at a shop, into that shop's: they are what it
// asks, as it was seen.
func atShops(d design.Design, edits []design.Edit) (list []design.Edit, seen []cost.Priced) {
	for _, e := range edits {
		sku, is := strings.CutPrefix(e.Field, "price:")
		at, price, ok := "", money.Amount(0), false
		if is {
			var sold design.Edit
			if sold, at, price, ok = d.PricedAt(sku, e.Value); ok {
				e = sold
			}
		}
		if list = append(list, e); ok {
			seen = append(seen, cost.Priced{At: at, Quote: cost.Quote{SKU: catalog.Base(sku), Price: price,
				Left: catalog.Plenty, Seen: time.Now().Format(time.DateOnly)}})
		}
	}
	return list, seen
}

// sawPrices takes prices down in the price book of a project's household, of shops that are in it.
func (s *Server) sawPrices(c *gin.Context, p store.Project, seen []cost.Priced) error {
	if len(seen) == 0 {
		return nil
	}
	in, err := s.mayShed(c, p.Household, people.TakeDown)
	if err != nil || !in {
		return err
	}
	book, err := s.store.Book(asked(c), p.Household, p.Design.Region)
	if err != nil {
		return err
	}
	seen = slices.DeleteFunc(seen, func(x cost.Priced) bool {
		_, known := book.Named(x.At)
		return !known
	})
	return s.store.NotePrices(p.Household, p.Design.Region, seen)
}
