package sim

import (
	"bytes"
	"context"
	"encoding/json"
	"errors"
	"io"
	"math/rand/v2"
	"net/http"
	"reflect"
	"slices"
	"strings"
	"sync"
	"testing"
	"time"

	"github.com/getkin/kin-openapi/openapi3"
	"github.com/getkin/kin-openapi/openapi3filter"
	"github.com/getkin/kin-openapi/routers/legacy"

	"chamfer/instrument"
	"chamfer/long"
)

// yard is an invented supplier at a time that a test sets.
func yard(at *time.Time) *Supplier {
	s := &Supplier{Seed: 5, Now: func() time.Time { return *at }}
	for _, a := range []string{"2x6/cedar/8 ft", "2x6/cedar/10 ft", "cmu8", "mix-bag", "deck-8-1-1_4/100", "cardboard"} {
		s.Articles = append(s.Articles, Article{"us", a, "Article " + a, 1450})
	}
	s.Articles = append(s.Articles, Article{"metric", "200x50/larch/2.4 m", "Larch", 2100})
	return s
}

// Every answer of the supplier, good and refused, is as its own OpenAPI description says, checked by the library
// kin-openapi; and the description is valid OpenAPI itself.
func TestSupplierKeepsItsDescription(t *testing.T) {
	day := time.Date(2027, 4, 3, 10, 0, 0, 0, time.UTC)
	at, stop, err := StartSupplier("127.0.0.1:0", yard(&day))
	if err != nil {
		t.Fatal(err)
	}
	defer stop()
	res, err := http.Get(at + "/openapi.json")
	if err != nil {
		t.Fatal(err)
	}
	raw, err := io.ReadAll(res.Body)
	res.Body.Close()
	if err != nil || !bytes.Equal(raw, Description()) {
		t.Fatal("it serves another description", err)
	}
	doc, err := openapi3.NewLoader().LoadFromData(raw)
	if err != nil {
		t.Fatal(err)
	}
	if err := doc.Validate(context.Background()); err != nil {
		t.Fatal(err)
	}
	router, err := legacy.NewRouter(doc)
	if err != nil {
		t.Fatal(err)
	}
	openapi3filter.RegisterBodyDecoder("application/problem+json", openapi3filter.JSONBodyDecoder)
	r := rand.New(rand.NewPCG(9, 9))
	seen := map[int]int{}
	for n := range 150 {
		day = day.Add(time.Duration(r.IntN(400)) * time.Hour)
		method, path, body := http.MethodGet, "/v1/us/wares", ""
		switch n % 5 {
		case 1:
			path = "/v1/us/slots"
		case 2, 3:
			method, path = http.MethodPost, "/v1/us/quotes"
			list := map[string]any{"lines": []map[string]any{{"item": []string{"cmu8", "mix-bag", "nothing"}[r.IntN(3)],
				"quantity": 1 + r.IntN(40)}}, "slot": []string{"", "long-ago"}[r.IntN(2)]}
			raw, err := json.Marshal(list)
			if err != nil {
				t.Fatal(err)
			}
			body = string(raw)
		case 4:
			path = "/v1/metric/wares"
		}
		req, err := http.NewRequest(method, at+path, strings.NewReader(body))
		if err != nil {
			t.Fatal(err)
		}
		if body != "" {
			req.Header.Set("Content-Type", "application/json")
		}
		of, err := http.NewRequest(method, path, strings.NewReader(body))
		if err != nil {
			t.Fatal(err)
		}
		of.Header = req.Header
		route, params, err := router.FindRoute(of)
		if err != nil {
			t.Fatal(method, path, err)
		}
		in := &openapi3filter.RequestValidationInput{Request: of, PathParams: params, Route: route}
		if err := openapi3filter.ValidateRequest(context.Background(), in); err != nil {
			t.Fatal(path, err)
		}
		res, err := http.DefaultClient.Do(req)
		if err != nil {
			t.Fatal(err)
		}
		seen[res.StatusCode]++
		out := &openapi3filter.ResponseValidationInput{RequestValidationInput: in, Status: res.StatusCode,
			Header: res.Header, Body: res.Body}
		if err := openapi3filter.ValidateResponse(context.Background(), out); err != nil {
			t.Errorf("%s %s: %v", method, path, err)
		}
		res.Body.Close()
	}
	if seen[200] == 0 || seen[201] == 0 || seen[422] == 0 {
		t.Error("these answers were seen:", seen)
	}
}

// A supplier of which three requests in five go wrong, in twelve ways: what is told is always what a sound one tells,
// or
// that it does not answer or makes no sense; nothing waits longer than it may.
func TestSupplierFaults(t *testing.T) {
	day := time.Date(2027, 4, 3, 10, 0, 0, 0, time.UTC)
	sound, stop, err := StartSupplier("127.0.0.1:0", yard(&day))
	if err != nil {
		t.Fatal(err)
	}
	defer stop()
	sick := yard(&day)
	sick.Faults = Outages{PerMille: 600}
	ill, stop2, err := StartSupplier("127.0.0.1:0", sick)
	if err != nil {
		t.Fatal(err)
	}
	defer stop2()
	ctx := context.Background()
	list := []instrument.Wanted{{Item: "cmu8", Quantity: 12}, {Item: "mix-bag", Quantity: 3}}
	wares, err := instrument.NewSupplier(sound).Supplies(ctx, "us")
	if err != nil {
		t.Fatal(err)
	}
	quote, err := instrument.NewSupplier(sound).Quote(ctx, "us", list, wares.Slots[0].ID)
	if err != nil {
		t.Fatal(err)
	}
	var mu sync.Mutex
	told := map[string]int{}
	var all sync.WaitGroup
	slots := make(chan bool, 24)
	for n := range long.Of(1000) {
		slots <- true
		all.Go(func() {
			defer func() { <-slots }()
			begun := time.Now()
			c := instrument.NewSupplier(ill)
			var err error
			var same bool
			if n%2 == 0 {
				var got instrument.Supplies
				got, err = c.Supplies(ctx, "us")
				same = reflect.DeepEqual(got, wares)
			} else {
				var got instrument.SupplyQuote
				got, err = c.Quote(ctx, "us", list, wares.Slots[0].ID)
				same = reflect.DeepEqual(got, quote)
			}
			mu.Lock()
			defer mu.Unlock()
			switch {
			case err == nil && !same:
				t.Errorf("%d: another answer was believed", n)
			case err == nil:
				told["answer"]++
			case errors.Is(err, instrument.ErrShut):
				told["shut"]++
			case errors.Is(err, instrument.ErrNonsense):
				told["nonsense"]++
			default:
				t.Errorf("%d: %v", n, err)
			}
			if took := time.Since(begun); took > 24*time.Second {
				t.Errorf("%d: it took %v", n, took)
			}
		})
	}
	all.Wait()
	t.Log(told)
	if told["answer"] == 0 || told["shut"] == 0 || told["nonsense"] == 0 {
		t.Error("these cases show too little:", told)
	}
	if _, err := instrument.NewSupplier("http://127.0.0.1:1").Supplies(ctx, "us"); !errors.Is(err, instrument.ErrShut) {
		t.Error("where nobody answers:", err)
	}
	no := &instrument.Declined{}
	if _, err := instrument.NewSupplier(sound).Quote(ctx, "us", list[1:], "long-ago"); !errors.As(err, &no) ||
		!strings.Contains(no.Reason, "slot") {
		t.Error("a slot that is taken:", err)
	}
}

// Prices wander and never by more than a sixth; stock runs out through the week and comes back.
func TestSupplierMoves(t *testing.T) {
	day := time.Date(2027, 4, 5, 0, 0, 0, 0, time.UTC) // a Monday
	s := yard(&day)
	moved, out, plenty := false, false, false
	for _, a := range s.Articles {
		before := s.Price(a, day)
		var left []int
		for n := range 7 * 24 {
			at := day.Add(time.Duration(n) * time.Hour)
			p := s.Price(a, at)
			moved = moved || p != before
			if 6*max(p-a.Price, a.Price-p) > a.Price+6 {
				t.Errorf("%s costs %s, and about %s", a.Item, p, a.Price)
			}
			if n := s.Left(a, at); n == nil {
				plenty = true
			} else {
				left = append(left, *n)
			}
		}
		if !slices.IsSortedFunc(left, func(a, b int) int { return b - a }) {
			t.Errorf("%s comes back within a week: %v", a.Item, left)
		}
		out = out || len(left) > 0 && left[len(left)-1] == 0
	}
	if !moved || !out || !plenty {
		t.Error("nothing moved, ran out or was plenty:", moved, out, plenty)
	}
}
