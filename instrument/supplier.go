package instrument

import (
	"bytes"
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"mime"
	"net/http"
	"net/url"
	"slices"
	"strconv"
	"strings"
	"time"
	"unicode"

	"github.com/cenkalti/backoff/v5"

	"chamfer/core/money"
)

// Supplier is a shop that answers what it sells by the network, as its description at /openapi.json says. Nothing is
// bought of it: it is asked for prices and for quotes.
type Supplier struct {
	Base   string // http://127.0.0.1:8460
	Wait   time.Duration
	Tries  uint
	client *http.Client
}

// Limits of what a supplier's answer is believed.
const (
	mostAnswer = 4 << 20
	mostWares  = 5000
	mostSlots  = 60
	mostStock  = 100_000
)

// NewSupplier is one at an address, which is asked three times, each no longer than three seconds.
func NewSupplier(base string) *Supplier {
	s := &Supplier{Base: strings.TrimSuffix(base, "/"), Wait: 3 * time.Second, Tries: 3}
	s.client = &http.Client{CheckRedirect: func(*http.Request, []*http.Request) error { return http.ErrUseLastResponse }}
	return s
}

// Supply is one thing as the supplier sells it.
type Supply struct {
	Item  string
	Name  string
	Price money.Amount // of one pack
	Taxed bool         // tax is in it
	Left  int          // -1: as many as anyone wants
}

// Slot is when the supplier brings what was bought, and for how much.
type Slot struct {
	ID       string
	From, To time.Time
	Fee      money.Amount
	Free     money.Amount // for nothing from this sum on; 0: never
}

// Supplies are what a supplier sells in a region, how it brings it, and the least it sells for.
type Supplies struct {
	Name  string
	At    time.Time
	Least money.Amount
	Wares []Supply
	Slots []Slot
}

// Wanted is so many of one thing that a quote is asked for.
type Wanted struct {
	Item     string `json:"item"`
	Quantity int    `json:"quantity"`
}

// Quoted is a line of a quote.
type Quoted struct {
	Item     string
	Quantity int // that it has of what was asked for
	Short    int // that it has not
	Price    money.Amount
	Amount   money.Amount
}

// SupplyQuote is what a supplier would sell all of it for, for a time. It is no order.
type SupplyQuote struct {
	ID       string
	Lines    []Quoted
	Goods    money.Amount
	Delivery money.Amount
	Total    money.Amount
	Until    time.Time
}

// What goes wrong with a supplier.
var (
	ErrShut     = errors.New("the supplier does not answer")
	ErrNonsense = errors.New("what the supplier answered makes no sense")
)

// A Declined supplier said no for a reason of its own, and asking again would not help.
type Declined struct{ Reason string }

func (d *Declined) Error() string { return d.Reason }

// Supplies asks what is sold in a region.
func (s *Supplier) Supplies(ctx context.Context, region string) (Supplies, error) {
	var raw struct {
		Name  string `json:"name"`
		AsOf  string `json:"as_of"`
		Least string `json:"least_order"`
		Wares []struct {
			Item  string `json:"item"`
			Name  string `json:"name"`
			Price string `json:"price"`
			Tax   string `json:"tax"`
			Left  *int   `json:"left"`
		} `json:"wares"`
	}
	out := Supplies{}
	if err := s.ask(ctx, http.MethodGet, "/v1/"+url.PathEscape(region)+"/wares", nil, &raw); err != nil {
		return out, err
	}
	var err error
	if out.At, err = time.Parse(time.RFC3339, raw.AsOf); err != nil {
		return out, garbled("as_of", raw.AsOf)
	}
	if out.Least, err = sum(raw.Least); err != nil {
		return out, garbled("least_order", raw.Least)
	}
	if out.Name = raw.Name; !tellable(raw.Name, 80) || raw.Wares == nil ||
		len(raw.Wares) > mostWares {
		return out, garbled("name", raw.Name)
	}
	seen := map[string]bool{}
	for _, w := range raw.Wares {
		x := Supply{Item: w.Item, Name: w.Name, Taxed: w.Tax == "with", Left: -1}
		if x.Price, err = sum(w.Price); err != nil {
			return out, garbled("price of "+w.Item, w.Price)
		}
		if w.Left != nil {
			x.Left = *w.Left
		}
		switch {
		case seen[w.Item] || !tellable(w.Item, 120) || !tellable(w.Name, 200):
			return out, garbled("item", w.Item)
		case w.Tax != "with" && w.Tax != "without":
			return out, garbled("tax", w.Tax)
		case w.Left != nil && (x.Left < 0 || x.Left > mostStock):
			return out, garbled("left", strconv.Itoa(x.Left))
		}
		seen[w.Item] = true
		out.Wares = append(out.Wares, x)
	}
	out.Slots, err = s.slots(ctx, region)
	return out, err
}

func (s *Supplier) slots(ctx context.Context, region string) (list []Slot, err error) {
	var raw struct {
		Slots []struct {
			ID   string `json:"id"`
			From string `json:"from"`
			To   string `json:"to"`
			Fee  string `json:"fee"`
			Free string `json:"free_from"`
		} `json:"slots"`
	}
	if err := s.ask(ctx, http.MethodGet, "/v1/"+url.PathEscape(region)+"/slots", nil, &raw); err != nil {
		return nil, err
	}
	if raw.Slots == nil {
		return nil, garbled("slots", "missing")
	}
	for _, r := range raw.Slots {
		x := Slot{ID: r.ID}
		var err1, err2, err3, err4 error
		x.From, err1 = time.Parse(time.RFC3339, r.From)
		x.To, err2 = time.Parse(time.RFC3339, r.To)
		x.Fee, err3 = sum(r.Fee)
		if r.Free != "" {
			x.Free, err4 = sum(r.Free)
		}
		if errors.Join(err1, err2, err3, err4) != nil || !tellable(r.ID, 40) || x.To.Before(x.From) ||
			slices.ContainsFunc(list, func(o Slot) bool { return o.ID == x.ID }) {
			return nil, garbled("slot", r.ID)
		}
		list = append(list, x)
	}
	if len(list) > mostSlots {
		return nil, garbled("slots", fmt.Sprint(len(list)))
	}
	return list, nil
}

// Quote asks what a list would cost, brought in a slot; "" where it is fetched.
func (s *Supplier) Quote(ctx context.Context, region string, list []Wanted, slot string) (SupplyQuote, error) {
	body, err := json.Marshal(map[string]any{"lines": list, "slot": slot})
	if err != nil {
		return SupplyQuote{}, err
	}
	var raw struct {
		ID    string `json:"id"`
		Lines []struct {
			Item     string `json:"item"`
			Quantity int    `json:"quantity"`
			Short    int    `json:"short"`
			Price    string `json:"price"`
			Amount   string `json:"amount"`
		} `json:"lines"`
		Goods    string `json:"goods"`
		Delivery string `json:"delivery"`
		Total    string `json:"total"`
		Until    string `json:"valid_until"`
	}
	q := SupplyQuote{}
	if err := s.ask(ctx, http.MethodPost, "/v1/"+url.PathEscape(region)+"/quotes", body, &raw); err != nil {
		return q, err
	}
	var err1, err2, err3, err4 error
	q.Goods, err1 = sum(raw.Goods)
	q.Delivery, err2 = sum(raw.Delivery)
	q.Total, err3 = sum(raw.Total)
	q.Until, err4 = time.Parse(time.RFC3339, raw.Until)
	if q.ID = raw.ID; errors.Join(err1, err2, err3, err4) != nil || !tellable(raw.ID, 60) || len(raw.Lines) != len(list) {
		return q, garbled("quote", raw.ID)
	}
	goods := money.Amount(0)
	for i, r := range raw.Lines {
		l := Quoted{Item: r.Item, Quantity: r.Quantity, Short: r.Short}
		l.Price, err1 = sum(r.Price)
		l.Amount, err2 = sum(r.Amount)
		if errors.Join(err1, err2) != nil || r.Item != list[i].Item || min(r.Quantity, r.Short) < 0 ||
			r.Quantity+r.Short != list[i].Quantity || l.Amount != l.Price.Times(r.Quantity) {
			return q, garbled("line of a quote", r.Item)
		}
		goods += l.Amount
		q.Lines = append(q.Lines, l)
	}
	if goods != q.Goods || q.Goods+q.Delivery != q.Total { // a sum that does not add up is not shown as one
		return q, garbled("sum of a quote", raw.Total)
	}
	return q, nil
}

// ask sends one request until it is answered, waiting longer each time and by chance, and reads the answer into what it
// should be. What would not be otherwise the next time is not asked again.
func (s *Supplier) ask(ctx context.Context, method, path string, body []byte, into any) error {
	wait := backoff.NewExponentialBackOff()
	wait.InitialInterval, wait.MaxInterval = 60*time.Millisecond, time.Second
	_, err := backoff.Retry(ctx, func() (struct{}, error) { return struct{}{}, s.once(ctx, method, path, body, into) },
		backoff.WithBackOff(wait), backoff.WithMaxTries(s.Tries), backoff.WithMaxElapsedTime(4*s.Wait))
	var declined *Declined
	switch {
	case err == nil || errors.As(err, &declined) || errors.Is(err, ErrNonsense):
		return err
	case ctx.Err() != nil:
		return fmt.Errorf("%w: it took too long", ErrShut)
	}
	return fmt.Errorf("%w: %w", ErrShut, err)
}

func (s *Supplier) once(ctx context.Context, method, path string, body []byte, into any) error {
	ctx, cancel := context.WithTimeout(ctx, s.Wait)
	defer cancel()
	req, err := http.NewRequestWithContext(ctx, method, s.Base+path, bytes.NewReader(body))
	if err != nil {
		return backoff.Permanent(err)
	}
	req.Header.Set("Accept", "application/json")
	if body != nil {
		req.Header.Set("Content-Type", "application/json")
	}
	res, err := s.client.Do(req)
	if err != nil {
		return errors.New("no answer from " + s.Base)
	}
	defer res.Body.Close()
	raw, err := io.ReadAll(io.LimitReader(res.Body, mostAnswer+1))
	switch {
	case err != nil:
		return errors.New("its answer broke off")
	case len(raw) > mostAnswer:
		return garbled("answer", "more than it should be")
	case res.StatusCode == http.StatusTooManyRequests || res.StatusCode >= 500:
		if n, err := strconv.Atoi(res.Header.Get("Retry-After")); err == nil && n >= 0 && n <= 2 {
			return backoff.RetryAfter(n)
		}
		return fmt.Errorf("it answered %d", res.StatusCode)
	case res.StatusCode == http.StatusUnprocessableEntity || res.StatusCode == http.StatusNotFound:
		var problem struct {
			Detail string `json:"detail"`
		}
		if json.Unmarshal(raw, &problem) != nil || !tellable(problem.Detail, 300) {
			return backoff.Permanent(garbled("refusal", res.Status))
		}
		return backoff.Permanent(&Declined{problem.Detail})
	case res.StatusCode != http.StatusOK && res.StatusCode != http.StatusCreated:
		return backoff.Permanent(garbled("answer", res.Status))
	}
	if kind, _, err := mime.ParseMediaType(res.Header.Get("Content-Type")); err != nil || kind != "application/json" {
		return garbled("answer", res.Header.Get("Content-Type"))
	}
	if err := json.Unmarshal(raw, into); err != nil {
		return garbled("answer", "no JSON as described")
	}
	return nil
}

func garbled(what, text string) error {
	if !tellable(text, 60) {
		text = "something"
	}
	return fmt.Errorf("%w: the %s is %q", ErrNonsense, what, text)
}

// sum reads a sum of money that is not below nothing.
func sum(text string) (money.Amount, error) {
	a, err := money.Parse(text)
	if err == nil && (a < 0 || a > money.Max) {
		err = ErrNonsense
	}
	return a, err
}

// tellable reports whether a text can be shown on a line.
func tellable(text string, most int) bool {
	return text != "" && len(text) <= most && !strings.ContainsFunc(text, unicode.IsControl) && strings.ToValidUTF8(text,
		"") == text
}
