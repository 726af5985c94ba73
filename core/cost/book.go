package cost

import (
	"cmp"
	"encoding/csv"
	"errors"
	"fmt"
	"io"
	"maps"
	"slices"
	"strconv"
	"strings"
	"time"
	"unicode"

	"chamfer/core/catalog"
	"chamfer/core/money"
)

// Shop is one that the gardener buys at.
type Shop struct {
	ID     int64
	Name   string
	Brings bool         // it delivers; else one goes there
	Fee    money.Amount // of going there and back, or of being brought what was bought there
	Free   money.Amount // it brings for nothing from this sum on, before tax; 0: never
	Least  money.Amount // it sells nothing below this sum, before tax; 0: anything
	Feed   bool         // it answers what it asks, where a supplier is plugged in
}

// Quote is a price that was seen at a shop.
type Quote struct {
	Shop  int64
	SKU   string
	Price money.Amount
	Taxed bool   // tax is in it
	Left  int    // that the shop has; catalog.Plenty where nobody said
	Seen  string // the day, 2027-04-03
}

// Net is the price before tax, at a rate in basis points; half a cent counts as one.
func (q Quote) Net(rate int) money.Amount {
	if !q.Taxed {
		return q.Price
	}
	whole := int64(10_000 + rate)
	return money.Amount((int64(q.Price)*10_000*2 + whole) / (2 * whole))
}

// Age is for how many days a price has been known, on a day; 0 where that makes no sense.
func (q Quote) Age(on time.Time) int {
	seen, err := time.Parse(time.DateOnly, q.Seen)
	if err != nil {
		return 0
	}
	return max(0, int(on.Sub(seen).Hours()/24))
}

// Book is the shops that the gardener knows and the last price of everything seen there.
type Book struct {
	Shops  []Shop
	Quotes []Quote // the last of each thing at each shop
}

// Limits of a price book.
const (
	MostShops     = 8
	MostQuotes    = 3000
	mostShopName  = 40
	mostQuotesCSV = 600_000
)

// Check tells what of a shop makes no sense.
func (s Shop) Check() error {
	switch {
	case strings.TrimSpace(s.Name) == "" || s.Name != strings.TrimSpace(s.Name):
		return errors.New("a shop has a name")
	case len([]rune(s.Name)) > mostShopName || strings.ContainsFunc(s.Name, unicode.IsControl):
		return fmt.Errorf("up to %d letters on one line work", mostShopName)
	case strings.ContainsAny(s.Name, ";,@"):
		return errors.New("a name without commas, semicolons and @ works")
	case catalog.Slug(s.Name) == "":
		return errors.New("a name with a letter or a digit in it works")
	case min(s.Fee, s.Free, s.Least) < 0 || max(s.Fee, s.Free, s.Least) > money.Max:
		return fmt.Errorf("sums from 0 to %s work", money.Max)
	}
	return nil
}

// Check tells what of a quote makes no sense in a region.
func (q Quote) Check(cat *catalog.Catalog) error {
	switch _, err := time.Parse(time.DateOnly, q.Seen); {
	case !cat.Sells(q.SKU) || strings.Contains(q.SKU, catalog.Elsewhere):
		return fmt.Errorf("nothing is sold here as %q", q.SKU)
	case q.Price < 0 || q.Price > money.Max:
		return fmt.Errorf("%s is no price: from 0 to %s works", q.Price, money.Max)
	case q.Left != catalog.Plenty && (q.Left < 0 || q.Left > catalog.MostLeft):
		return fmt.Errorf("%d is no number of things; 0 to %d works", q.Left, catalog.MostLeft)
	case err != nil:
		return fmt.Errorf("%q is no day; 2027-04-03 works", q.Seen)
	}
	return nil
}

// Named is a shop by its name.
func (b Book) Named(name string) (Shop, bool) {
	i := slices.IndexFunc(b.Shops, func(s Shop) bool { return s.Name == name })
	if i < 0 {
		return Shop{}, false
	}
	return b.Shops[i], true
}

// Sales are what the shops chosen ask for everything, before tax at a rate, the cheapest first. Of things that may
// stand
// in for one another, of which some shop of the book asks a price, those that none of the chosen sells are there with
// no
// sale; kinds that none of them has any of, though the book does, are not in it, and in none. Who sells what comes
// loose brings it, whether a price of that is known or not.
func (b Book) Sales(cat *catalog.Catalog, rate int, chosen func(Shop) bool) (
	sales map[string][]catalog.Sale, none map[string]bool) {
	sales, none = map[string][]catalog.Sale{}, map[string]bool{}
	kinds, of := map[string][]string{}, map[string]string{}
	for _, w := range cat.Wares() {
		of[w.SKU] = w.Of
		kinds[w.Of] = append(kinds[w.Of], w.SKU)
	}
	for _, q := range b.Quotes {
		i := slices.IndexFunc(b.Shops, func(s Shop) bool { return s.ID == q.Shop })
		if i < 0 {
			continue
		}
		none[of[q.SKU]] = true
		if chosen(b.Shops[i]) && q.Left != 0 {
			sales[q.SKU] = append(sales[q.SKU], catalog.Sale{Price: q.Net(rate), At: b.Shops[i].Name, Left: q.Left,
				Brought: b.Shops[i].Brings})
		}
	}
	for sku := range sales {
		delete(none, of[sku])
		for _, like := range kinds[of[sku]] {
			if _, told := sales[like]; !told {
				sales[like] = nil
			}
		}
	}
	maps.DeleteFunc(none, func(kind string, _ bool) bool { return strings.HasSuffix(kind, catalog.Delivery) })
	for _, list := range sales {
		slices.SortStableFunc(list, func(x, y catalog.Sale) int {
			return cmp.Or(cmp.Compare(x.Price, y.Price), strings.Compare(x.At, y.At))
		})
	}
	return sales, none
}

// Cheap is the lowest price of a thing, and at how many other shops it has one.
type Cheap struct {
	Quote
	Others int
}

// Cheapest are the lowest prices of everything that has one, before tax at a rate, by number: of shops that have some
// of
// it before those that have none.
func (b Book) Cheapest(rate int) (list []Cheap) {
	at := map[string]int{}
	for _, q := range b.Quotes {
		i, ok := at[q.SKU]
		if !ok {
			at[q.SKU] = len(list)
			list = append(list, Cheap{Quote: q})
			continue
		}
		c := &list[i]
		if c.Others++; (q.Left != 0) == (c.Left != 0) && q.Net(rate) < c.Net(rate) || q.Left != 0 && c.Left == 0 {
			c.Quote = q
		}
	}
	slices.SortStableFunc(list, func(x, y Cheap) int { return strings.Compare(x.SKU, y.SKU) })
	return list
}

// bookColumns are those of a price list. What a thing is called and how it is sold is for whoever reads it.
var bookColumns = []string{"shop", "item", "name", "sold by", "price", "tax", "left", "seen"}

// WritePrices writes a book's prices as [ReadPrices] reads them.
func (b Book) WritePrices(w io.Writer, cat *catalog.Catalog) error {
	out := csv.NewWriter(w)
	if err := out.Write(bookColumns); err != nil {
		return err
	}
	names := map[string]string{}
	for _, s := range b.Shops {
		names[strconv.FormatInt(s.ID, 10)] = s.Name
	}
	wares := map[string]catalog.Ware{}
	for _, x := range cat.Wares() {
		wares[x.SKU] = x
	}
	for _, q := range b.Quotes {
		tax, left := "without", ""
		if q.Taxed {
			tax = "with"
		}
		if q.Left >= 0 {
			left = strconv.Itoa(q.Left)
		}
		if err := out.Write([]string{names[strconv.FormatInt(q.Shop, 10)], q.SKU, wares[q.SKU].Name, wares[q.SKU].Unit,
			q.Price.String(), tax, left, q.Seen}); err != nil {
			return err
		}
	}
	out.Flush()
	return out.Error()
}

// Priced is a line of a price list.
type Priced struct {
	At string // the shop's name
	Quote
}

// ReadPrices reads a price list with the columns shop, item, price, and where there are, tax, left and seen, in any
// order; a day that is missing is today. Every fault names its line and column, and with one nothing is taken.
func ReadPrices(r io.Reader, cat *catalog.Catalog, today string) ([]Priced, error) {
	in := csv.NewReader(io.LimitReader(r, mostQuotesCSV+1))
	head, err := in.Read()
	if err != nil {
		return nil,
			errors.New("line 1: a price list begins with the names of its columns: shop, item, price, tax, left, seen")
	}
	at := map[string]int{}
	for i, h := range head {
		h = strings.ToLower(strings.TrimSpace(strings.TrimPrefix(h, "\ufeff")))
		if !slices.Contains(bookColumns, h) {
			return nil, fmt.Errorf("line 1, column %d: %q is no column of a price list; %s are", i+1, h,
				strings.Join(bookColumns, ", "))
		}
		if _, twice := at[h]; twice {
			return nil, fmt.Errorf("line 1, column %d: %q is there twice", i+1, h)
		}
		at[h] = i
	}
	for _, must := range []string{"shop", "item", "price"} {
		if _, ok := at[must]; !ok {
			return nil, fmt.Errorf("line 1: the column %s is missing", must)
		}
	}
	var list []Priced
	for line := 2; ; line++ {
		row, err := in.Read()
		if errors.Is(err, io.EOF) {
			break
		}
		if in.InputOffset() > mostQuotesCSV {
			return nil, fmt.Errorf("a price list of more than %d letters is not read", mostQuotesCSV)
		}
		if err != nil {
			return nil, fmt.Errorf("line %d: %w", line, err)
		}
		line, _ = in.FieldPos(0)
		fault := func(column string, format string, args ...any) error {
			_, col := in.FieldPos(at[column])
			return fmt.Errorf("line %d, column %d (%s): %s", line, col, column, fmt.Sprintf(format, args...))
		}
		cell := func(column string) string {
			if i, ok := at[column]; ok {
				return strings.TrimSpace(row[i])
			}
			return ""
		}
		p := Priced{At: cell("shop"), Quote: Quote{SKU: cell("item"), Left: catalog.Plenty, Seen: cmp.Or(cell("seen"),
			today)}}
		if err := (Shop{Name: p.At}).Check(); err != nil {
			return nil, fault("shop", "%v", err)
		}
		if p.Price, err = money.Parse(cell("price")); err != nil {
			return nil, fault("price", "%v", err)
		}
		switch cell("tax") {
		case "with":
			p.Taxed = true
		case "without", "":
		default:
			return nil, fault("tax", "%q is neither with nor without", cell("tax"))
		}
		if left := cell("left"); left != "" {
			if p.Left, err = strconv.Atoi(left); err != nil || p.Left < 0 || p.Left > catalog.MostLeft {
				return nil, fault("left", "%q is no number of things; 0 to %d works", left, catalog.MostLeft)
			}
		}
		if _, err := time.Parse(time.DateOnly, p.Seen); err != nil {
			return nil, fault("seen", "%q is no day; 2027-04-03 works", p.Seen)
		}
		if err := p.Quote.Check(cat); err != nil {
			return nil, fault("item", "%v", err)
		}
		if slices.ContainsFunc(list, func(o Priced) bool { return o.At == p.At && o.SKU == p.SKU }) {
			return nil, fault("item", "%s at %s is there twice", p.SKU, p.At)
		}
		if list = append(list, p); len(list) > MostQuotes {
			return nil, fmt.Errorf("line %d: a price list holds up to %d prices", line, MostQuotes)
		}
	}
	return list, nil
}
