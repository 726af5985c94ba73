// Load lets people work at a Chamfer that runs already, and says how it answered: some edit beds of their own, as the
// pages' script does, some read what others have. After every answer who edits waits ten seconds on average, who reads
// twenty.
//
//	chamfer serve --data /tmp/load.db &
//	go run ./scripts/load --at http://127.0.0.1:8420 --editors 100 --readers 400 --minutes 10
//
// It ends with 1 where anything was answered with a fault of the server, or a change that was acknowledged is not
// there.
package main

import (
	"flag"
	"fmt"
	"io"
	"math/rand/v2"
	"net"
	"net/http"
	"net/http/cookiejar"
	"net/url"
	"os"
	"regexp"
	"slices"
	"strings"
	"sync"
	"time"
)

var (
	at      = flag.String("at", "http://127.0.0.1:8420", "address of the Chamfer")
	editors = flag.Int("editors", 100, "people who edit")
	readers = flag.Int("readers", 400, "people who read")
	minutes = flag.Float64("minutes", 10, "how long")
	think   = flag.Duration("think", 10*time.Second, "what who edits waits after an answer, on average")
	turning = flag.Duration("turning", 20*time.Second, "what who reads waits before the next page, on average")
	flood   = flag.Int("flood", 0,
		"connections more from one other address that read without a pause, to be felt by nobody")
	heavy = flag.Int("heavy", 0, "people more who edit large beds without a pause, to be felt by nobody")
)

// figures are how long answers took, by what was asked.
type figures struct {
	mu     sync.Mutex
	took   map[string][]time.Duration
	faults map[string]int
}

func (f *figures) add(what string, took time.Duration, fault string) {
	f.mu.Lock()
	defer f.mu.Unlock()
	f.took[what] = append(f.took[what], took)
	if fault != "" {
		f.faults[what+": "+fault]++
	}
}

// person is one of them, with a connection of their own.
type person struct {
	client *http.Client
	of     *figures
	r      *rand.Rand
}

// flooder is one of many connections of a machine of its own, by its address.
func flooder(of *figures, n uint64) *person {
	p := newPerson(of, n)
	from := &net.Dialer{LocalAddr: &net.TCPAddr{IP: net.IPv4(127, 0, 0, 9)}}
	p.client.Transport.(*http.Transport).DialContext = from.DialContext
	return p
}

func newPerson(of *figures, n uint64) *person {
	stay := func(*http.Request, []*http.Request) error { return http.ErrUseLastResponse }
	jar, _ := cookiejar.New(nil) // never fails
	return &person{&http.Client{Transport: &http.Transport{MaxIdleConnsPerHost: 1}, CheckRedirect: stay, Jar: jar,
		Timeout: 2 * time.Minute}, of, rand.New(rand.NewPCG(n, 25))}
}

// ask sends one request and returns the answer; a fault of the server, or none at all, is counted.
func (p *person) ask(what, path string, form url.Values) (*http.Response, string) {
	method, body := "GET", io.Reader(nil)
	if form != nil {
		method, body = "POST", strings.NewReader(form.Encode())
	}
	r, err := http.NewRequest(method, *at+path, body)
	if err != nil {
		panic(err)
	}
	if form != nil {
		r.Header.Set("Content-Type", "application/x-www-form-urlencoded")
	}
	if what != "read" {
		r.Header.Set("X-Chamfer", "part")
		r.Header.Set("X-Chamfer-Late", map[bool]string{true: "rest", false: "yes"}[what == "the rest"])
	}
	began := time.Now()
	a, err := p.client.Do(r)
	if err != nil {
		p.of.add(what, time.Since(began), err.Error())
		return nil, ""
	}
	defer a.Body.Close()
	raw, err := io.ReadAll(a.Body)
	fault := ""
	if err != nil || a.StatusCode >= 500 || a.StatusCode == http.StatusTooManyRequests {
		fault = fmt.Sprint(a.StatusCode, " ", err)
	}
	p.of.add(what, time.Since(began), fault)
	return a, string(raw)
}

func (p *person) pause(mean time.Duration) {
	time.Sleep(time.Duration(p.r.ExpFloat64() * float64(mean)))
}

var (
	revision = regexp.MustCompile(`name="rev" value="(\d+)"`)
	rest     = regexp.MustCompile(`^[^>]* data-late="([^"]*)"`)
	length   = regexp.MustCompile(`name="length" value="([^"]*)"`)
)

var systems = []string{"boarded", "boarded", "boarded", "sleeper", "legged", "block-wall", "tiered", "staked"}

// begin makes a project of one's own.
func (p *person) begin(n int, system string) string {
	a, page := p.ask("begin", "/projects", url.Values{"region": {"us"}, "system": {system},
		"name": {fmt.Sprint("bed of person ", n)}})
	if a == nil || a.StatusCode != http.StatusSeeOther {
		fmt.Fprintf(os.Stderr, "no project: %v %.300s\n", a, page)
		os.Exit(1)
	}
	return strings.TrimSuffix(a.Header.Get("Location"), "/bed")
}

// edit changes a size and takes the rest of the page, as the script does. It returns the revision, and whether the
// change
// was acknowledged.
func (p *person) edit(project, rev, field, to string) (string, bool) {
	a, page := p.ask("edit", project+"/edit", url.Values{"stage": {"bed"}, "rev": {rev}, field: {to}})
	if a == nil || a.StatusCode != http.StatusOK {
		return rev, false
	}
	if m := rest.FindStringSubmatch(page); m != nil {
		p.ask("the rest", strings.ReplaceAll(m[1], "&amp;", "&"), nil)
	}
	if m := revision.FindStringSubmatch(page); m != nil && m[1] != rev {
		return m[1], true
	}
	return rev, false
}

func main() {
	flag.Parse()
	f := &figures{took: map[string][]time.Duration{}, faults: map[string]int{}}
	projects := make([]string, *editors+*heavy)
	last := make([]string, *editors)
	for i := range projects {
		system := systems[i%len(systems)]
		if i >= *editors {
			system = "terraces"
		}
		projects[i] = newPerson(f, uint64(i)).begin(i, system)
	}
	f.took = map[string][]time.Duration{}
	end := time.Now().Add(time.Duration(*minutes * float64(time.Minute)))
	var wait sync.WaitGroup
	for i := range *editors + *heavy {
		wait.Go(func() {
			p := newPerson(f, uint64(1000+i))
			_, page := p.ask("read", projects[i]+"/bed", nil)
			m := revision.FindStringSubmatch(page)
			if m == nil {
				f.add("edit", 0, "no page")
				return
			}
			rev := m[1]
			for n := 0; time.Now().Before(end); n++ {
				if i < *editors {
					p.pause(*think)
				}
				field, to, ok := "length", fmt.Sprintf("%d in", 60+p.r.IntN(60)), false
				switch p.r.IntN(4) {
				case 0:
					field, to = "width", fmt.Sprintf("%d in", 30+p.r.IntN(12))
				case 1:
					field, to = "soil", fmt.Sprintf("%d in", 8+p.r.IntN(8))
				}
				if rev, ok = p.edit(projects[i], rev, field, to); ok && i < *editors && field == "length" {
					last[i] = to
				}
			}
		})
	}
	for i := range *readers {
		wait.Go(func() {
			p := newPerson(f, uint64(5000+i))
			stages := []string{"bed", "frame", "cuts", "bill", "fixings", "fill", "build", "log"}
			for time.Now().Before(end) {
				p.pause(*turning)
				p.ask("read", projects[p.r.IntN(*editors)]+"/"+stages[p.r.IntN(len(stages))], nil)
			}
		})
	}
	flooded := &figures{took: map[string][]time.Duration{}, faults: map[string]int{}}
	for i := range *flood {
		wait.Go(func() {
			p := flooder(flooded, uint64(20_000+i))
			for time.Now().Before(end) {
				p.ask("read", projects[p.r.IntN(*editors)]+"/bed?flood="+fmt.Sprint(p.r.Uint32()), nil)
			}
		})
	}
	wait.Wait()
	if *flood > 0 {
		fmt.Printf("the flood got %d answers, %v of them refusals\n", len(flooded.took["read"]), flooded.faults)
	}
	bad := len(f.faults)
	for _, what := range []string{"edit", "the rest", "read"} {
		list := f.took[what]
		slices.Sort(list)
		if len(list) == 0 {
			continue
		}
		of := func(n int) time.Duration { return list[min(len(list)-1, len(list)*n/100)].Round(time.Millisecond) }
		fmt.Printf("%-9s %6d  median %v  95 of 100 %v  99 of 100 %v  longest %v\n", what, len(list), of(50), of(95), of(99),
			list[len(list)-1].Round(time.Millisecond))
	}
	for what, n := range f.faults {
		fmt.Printf("%d × %s\n", n, what)
	}
	lost := 0
	p := newPerson(f, 1)
	for i, want := range last {
		if want == "" {
			continue
		}
		_, page := p.ask("read", projects[i]+"/bed", nil)
		if m := length.FindStringSubmatch(page); m == nil || !same(m[1], want) {
			lost++
			fmt.Printf("%s has %v, and %s had been acknowledged\n", projects[i], m, want)
		}
	}
	fmt.Printf("%d acknowledged changes are not there\n", lost)
	if bad+lost > 0 {
		os.Exit(1)
	}
}

// same reports whether a length in feet and inches, as a page writes it, is so many inches.
func same(shown, inches string) bool {
	var want, feet, in int
	_, _ = fmt.Sscanf(inches, "%d in", &want)
	shown = strings.NewReplacer("&#39;", "'", "&#34;", `"`).Replace(shown)
	before, after, has := strings.Cut(shown, "'")
	if !has {
		before, after = "0", shown
	}
	_, _ = fmt.Sscanf(before, "%d", &feet)
	_, _ = fmt.Sscanf(strings.TrimSpace(after), "%d", &in)
	return feet*12+in == want
}
