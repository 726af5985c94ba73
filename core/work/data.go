package work

import (
	"chamfer/core/measure"
	_ "embed"
	"encoding/csv"
	"math"
	"strconv"
	"strings"
	"sync"
)

//go:embed rates.csv
var rateTable string

//go:embed waits.csv
var waitTable string

// Rate is how long something takes one person, in minutes: who is used to it, and who is not.
type Rate struct {
	Key, What, Unit string
	Low, High       float64
	Source          string
}

// Wait is how long nothing may be done to what was done, in hours at 20 °C: at least, and to be sure.
type Wait struct {
	Key, What string // "mortar", "the mortar bears a light filling"
	Low, High float64
	Cold      bool // longer where it is colder
	Source    string
}

// Words say how long it is: "4 to 7 days".
func (w Wait) Words() string {
	say := func(h float64) string {
		if h >= 48 {
			return measure.Count(int(math.Round(h/24)), "day")
		}
		return measure.Count(int(math.Round(h)), "hour")
	}
	if w.Low == w.High {
		return say(w.Low)
	}
	return say(w.Low) + " to " + say(w.High)
}

// Rates are all of them, by key.
var Rates = sync.OnceValue(func() map[string]Rate {
	list := map[string]Rate{}
	for _, r := range rowsOf(rateTable) {
		list[r[0]] = Rate{r[0], r[1], r[2], number(r[3]), number(r[4]), r[5]}
	}
	return list
})

// Waits are all of them, by key.
var Waits = sync.OnceValue(func() map[string]Wait {
	list := map[string]Wait{}
	for _, r := range rowsOf(waitTable) {
		list[r[0]] = Wait{r[0], r[1], number(r[2]), number(r[3]), r[4] == "yes", r[5]}
	}
	return list
})

// rowsOf are a table's rows below its head; none where it is no table, which a test sees.
func rowsOf(table string) [][]string {
	rows, err := csv.NewReader(strings.NewReader(table)).ReadAll()
	if err != nil || len(rows) < 2 {
		return nil
	}
	return rows[1:]
}

func number(s string) float64 {
	v, err := strconv.ParseFloat(s, 64)
	if err != nil {
		return -1 // a test sees it
	}
	return v
}

// base is the temperature in °C, and under, below which what sets gains no strength (Nurse and Saul, ASTM C1074,
// from memory: so much strength for so many degrees over -10 and hours).
const base, under = 20.0, -10.0

// At is a wait where it is so many °C on average: what sets by warmth takes as much longer as there is less of it.
// Under 5 °C nothing is laid or cast, and nothing is reckoned.
func (w Wait) At(celsius float64) Wait {
	if w.Cold {
		by := (base - under) / (max(celsius, 5) - under)
		w.Low, w.High = w.Low*by, w.High*by
	}
	return w
}

// Chore is so much of one kind of work in a step.
type Chore struct {
	Rate Rate
	N    float64 // in the rate's unit
}

// Minutes are how long a step takes one person, set-up and rest with it.
func (s Step) Minutes() (low, high float64) {
	for _, c := range s.Chores {
		low, high = low+c.N*c.Rate.Low, high+c.N*c.Rate.High
	}
	more := Rates()["allowance"]
	return low * more.Low, high * more.High
}

// chore adds so much of a kind of work to a step.
func (s *Step) chore(key string, n float64) {
	if n <= 0 {
		return
	}
	for i := range s.Chores {
		if s.Chores[i].Rate.Key == key {
			s.Chores[i].N += n
			return
		}
	}
	s.Chores = append(s.Chores, Chore{Rates()[key], n})
}
