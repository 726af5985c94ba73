package sim

import (
	_ "embed"
	"encoding/json"
	"fmt"
	"hash/fnv"
	"math"
	"math/rand/v2"
	"net"
	"net/http"
	"strings"
	"sync"
	"time"

	"chamfer/core/money"
)

//go:embed supplier.openapi.json
var description []byte

// Description is the supplier's own, as OpenAPI has it.
func Description() []byte { return description }

// Article is something that an invented supplier sells, in a region.
type Article struct {
	Region, Item, Name string
	Price              money.Amount // about
}

// Supplier is an invented builders' supplier that answers by HTTP: its prices wander from day to day, its stock runs
// out through the week, it brings what is bought in slots for a fee, and sells nothing below a sum. The same seed and
// the same time answer the same. It sells nothing by itself: a quote is no order.
type Supplier struct {
	Seed     uint64
	Articles []Article
	Now      func() time.Time
	Faults   Outages

	mu   sync.Mutex
	rand *rand.Rand
}

// Outages are what goes wrong with a supplier: of a thousand requests so many, each in one of many ways; and how long
// each takes at least.
type Outages struct {
	PerMille int
	Slow     time.Duration
}

// leastOrder and quoteDays are what such a supplier has in its terms.
const (
	leastOrder = 25_00
	quoteDays  = 3
)

// noise is a number from -1 to 1 that belongs to a thing and a day's number.
func (s *Supplier) noise(item string, n int64) float64 {
	h := fnv.New64a()
	fmt.Fprint(h, item)
	return 2*rand.New(rand.NewPCG(s.Seed^h.Sum64(), uint64(n))).Float64() - 1
}

// Price is what a thing costs at a time: up to a sixth about its price, on the way from one week's to the next.
func (s *Supplier) Price(a Article, at time.Time) money.Amount {
	day := at.Unix() / 86400
	week, part := day/7, float64(day%7)/7
	off := s.noise(a.Item, week)*(1-part) + s.noise(a.Item, week+1)*part
	return max(1, money.Amount(math.Round(float64(a.Price)*(1+off/6))))
}

// Left is how many it has: it is stocked on Mondays and sells out, a little each hour; of one thing in three it has
// plenty, which is nil.
func (s *Supplier) Left(a Article, at time.Time) *int {
	const plenty, most = 0.34, 60
	monday := (at.Unix()/86400 + 3) / 7
	if s.noise(a.Item+"/stock", 0) < -plenty {
		return nil
	}
	hours := float64((at.Unix()+3*86400)%(7*86400)) / 3600
	full := (s.noise(a.Item+"/stock", monday) + 1) / 2 * most
	gone := (s.noise(a.Item+"/sold", monday) + 1) / 2 * hours / 4
	n := max(0, int(full-gone))
	return &n
}

type problem struct {
	Title  string `json:"title"`
	Status int    `json:"status"`
	Detail string `json:"detail"`
}

// ServeHTTP answers as its description says, but for its faults.
func (s *Supplier) ServeHTTP(w http.ResponseWriter, r *http.Request) {
	time.Sleep(s.Faults.Slow)
	if r.URL.Path != "/openapi.json" && s.fails(w, r) {
		return
	}
	parts := strings.Split(strings.Trim(r.URL.Path, "/"), "/")
	switch {
	case r.URL.Path == "/openapi.json" && r.Method == http.MethodGet:
		w.Header().Set("Content-Type", "application/json")
		_, _ = w.Write(description)
	case len(parts) != 3 || parts[0] != "v1":
		refuse(w, http.StatusNotFound, "There is no such address.")
	case !s.sells(parts[1]):
		refuse(w, http.StatusNotFound, "Nothing is sold there.")
	case parts[2] == "wares" && r.Method == http.MethodGet:
		s.wares(w, parts[1])
	case parts[2] == "slots" && r.Method == http.MethodGet:
		answer(w, http.StatusOK, map[string]any{"slots": s.slots()})
	case parts[2] == "quotes" && r.Method == http.MethodPost:
		s.quote(w, r, parts[1])
	default:
		refuse(w, http.StatusNotFound, "There is no such address.")
	}
}

func (s *Supplier) sells(region string) bool {
	for _, a := range s.Articles {
		if a.Region == region {
			return true
		}
	}
	return false
}

func (s *Supplier) wares(w http.ResponseWriter, region string) {
	now := s.Now().UTC()
	type ware struct {
		Item  string `json:"item"`
		Name  string `json:"name"`
		Price string `json:"price"`
		Tax   string `json:"tax"`
		Left  *int   `json:"left"`
	}
	list := []ware{}
	for _, a := range s.Articles {
		if a.Region == region {
			list = append(list, ware{a.Item, a.Name, s.Price(a, now).String(), "without", s.Left(a, now)})
		}
	}
	answer(w, http.StatusOK, map[string]any{"name": "Brook Lane Supply, a stand-in", "as_of": now.Format(time.RFC3339),
		"least_order": money.Amount(leastOrder).String(), "wares": list})
}

type slot struct {
	ID   string `json:"id"`
	From string `json:"from"`
	To   string `json:"to"`
	Fee  string `json:"fee"`
	Free string `json:"free_from"`
}

// slots are the mornings and afternoons of the next five days but Sunday's; a morning is dearer.
func (s *Supplier) slots() (list []slot) {
	day := s.Now().UTC().Truncate(24 * time.Hour)
	for range 5 {
		if day = day.AddDate(0, 0, 1); day.Weekday() == time.Sunday {
			continue
		}
		for _, half := range []struct {
			name     string
			from, to int
			fee      money.Amount
		}{{"am", 8, 12, 28_00}, {"pm", 13, 17, 19_00}} {
			list = append(list, slot{day.Format(time.DateOnly) + "-" + half.name,
				day.Add(time.Duration(half.from) * time.Hour).Format(time.RFC3339),
				day.Add(time.Duration(half.to) * time.Hour).Format(time.RFC3339), half.fee.String(),
				money.Amount(500_00).String()})
		}
	}
	return list
}

// quote says what a list would cost, and what of it is not there.
func (s *Supplier) quote(w http.ResponseWriter, r *http.Request, region string) {
	var in struct {
		Lines []struct {
			Item     string `json:"item"`
			Quantity int    `json:"quantity"`
		} `json:"lines"`
		Slot string `json:"slot"`
	}
	const most, each = 200, 10_000
	if err := json.NewDecoder(http.MaxBytesReader(w, r.Body, 1<<18)).Decode(&in); err != nil || len(in.Lines) == 0 ||
		len(in.Lines) > most {
		refuse(w, http.StatusUnprocessableEntity, fmt.Sprintf("A list has 1 to %d lines.", most))
		return
	}
	now := s.Now().UTC()
	fee := money.Amount(0)
	if in.Slot != "" {
		known := false
		for _, x := range s.slots() {
			if x.ID == in.Slot {
				known = true
				_ = fee.UnmarshalText([]byte(x.Fee)) // it is one's own
			}
		}
		if !known {
			refuse(w, http.StatusUnprocessableEntity, "That slot is taken: choose another.")
			return
		}
	}
	type line struct {
		Item     string `json:"item"`
		Quantity int    `json:"quantity"`
		Short    int    `json:"short"`
		Price    string `json:"price"`
		Amount   string `json:"amount"`
	}
	goods, lines := money.Amount(0), []line{}
	for _, l := range in.Lines {
		var of *Article
		for i := range s.Articles {
			if s.Articles[i].Region == region && s.Articles[i].Item == l.Item {
				of = &s.Articles[i]
			}
		}
		if of == nil || l.Quantity < 1 || l.Quantity > each {
			refuse(w, http.StatusUnprocessableEntity, "Not sold, or not so many: "+l.Item)
			return
		}
		has := l.Quantity
		if left := s.Left(*of, now); left != nil {
			has = min(has, *left)
		}
		price := s.Price(*of, now)
		goods += price.Times(has)
		lines = append(lines, line{l.Item, has, l.Quantity - has, price.String(), price.Times(has).String()})
	}
	if goods < leastOrder {
		refuse(w, http.StatusUnprocessableEntity, fmt.Sprintf("The least order is %s, and this is %s.",
			money.Amount(leastOrder), goods))
		return
	}
	if in.Slot == "" || goods >= 500_00 {
		fee = 0
	}
	h := fnv.New32a()
	fmt.Fprint(h, in, now.Unix())
	answer(w, http.StatusCreated, map[string]any{"id": fmt.Sprintf("q-%08x", h.Sum32()), "lines": lines,
		"goods": goods.String(), "delivery": fee.String(), "total": (goods + fee).String(),
		"valid_until": now.AddDate(0, 0, quoteDays).Format(time.RFC3339)})
}

// fails does one of the things that go wrong, or reports that nothing does.
func (s *Supplier) fails(w http.ResponseWriter, r *http.Request) bool {
	s.mu.Lock()
	if s.rand == nil {
		s.rand = rand.New(rand.NewPCG(s.Seed, 1))
	}
	fails, which := s.rand.IntN(1000) < s.Faults.PerMille, s.rand.IntN(12)
	s.mu.Unlock()
	if !fails {
		return false
	}
	send := func(status int, kind, body string) {
		w.Header().Set("Content-Type", kind)
		w.WriteHeader(status)
		_, _ = w.Write([]byte(body))
	}
	const good = "application/json"
	switch which {
	case 0:
		send(500, "text/html", "<h1>Oh dear</h1>")
	case 1:
		w.Header().Set("Retry-After", "1")
		send(503, good, `{"title":"busy","status":503,"detail":"Come again."}`)
	case 2:
		send(429, good, `{"title":"slower","status":429,"detail":"Not so often."}`)
	case 3:
		send(200, good, `{"name":"Brook Lane Supply","wares":[{"item":"2x6/ce`)
	case 4:
		send(200, "text/html", "<p>Sign in to the network</p>")
	case 5:
		send(200, good, `{"name":"Brook Lane Supply","as_of":"2027-04-03T08:00:00Z","least_order":"0","wares":[{"item":"x",`+
			`"name":"x","price":"-4.00","tax":"without","left":3}],"slots":[{"id":"x","from":"soon"}]}`)
	case 6:
		send(200, good, `{"name":"Brook Lane Supply","as_of":"yesterday","slots":7,"lines":"many"}`)
	case 7:
		send(200, good, "["+strings.Repeat(`"flood",`, 700_000))
	case 8:
		w.Header().Set("Location", r.URL.Path)
		send(302, good, "{}")
	case 9:
		send(200, good, `{"name":"a\u0000b","as_of":"2027-04-03T08:00:00Z","least_order":"1e9","wares":null,"slots":null}`)
	case 10:
		send(418, good, "{}")
	default:
		if h, ok := w.(http.Hijacker); ok {
			if conn, _, err := h.Hijack(); err == nil {
				_ = conn.Close() // the line is cut
				return true
			}
		}
		send(502, good, "{}")
	}
	return true
}

func answer(w http.ResponseWriter, status int, body any) {
	raw, err := json.Marshal(body)
	if err != nil {
		refuse(w, http.StatusInternalServerError, "It cannot be told.")
		return
	}
	w.Header().Set("Content-Type", "application/json")
	w.WriteHeader(status)
	_, _ = w.Write(raw)
}

func refuse(w http.ResponseWriter, status int, detail string) {
	raw, _ := json.Marshal(problem{http.StatusText(status), status, detail})
	w.Header().Set("Content-Type", "application/problem+json")
	w.WriteHeader(status)
	_, _ = w.Write(raw)
}

// StartSupplier serves a supplier on an address of this machine, and returns where, and how to stop it.
func StartSupplier(addr string, s *Supplier) (at string, stop func() error, err error) {
	ln, err := net.Listen("tcp", addr)
	if err != nil {
		return "", nil, err
	}
	srv := &http.Server{Handler: s, ReadHeaderTimeout: 5 * time.Second, ReadTimeout: 10 * time.Second}
	go func() { _ = srv.Serve(ln) }()
	return "http://" + ln.Addr().String(), srv.Close, nil
}
