package planting

import (
	"encoding/csv"
	"fmt"
	"io"
	"math"
	"slices"
	"strconv"
	"strings"
	"time"
)

// Night is a day of a record of weather: its least and, where it is there, its greatest temperature, in degrees
// Celsius.
type Night struct {
	Day      time.Time
	Min, Max float64
	Both     bool
}

// mostNights are those of a century.
const mostNights = 40_000

// ReadNights reads a record of daily minima, "2019-05-03,-1.2" a line, or with the maximum behind it; a first line that
// names columns is passed over. A fault is told by its line.
func ReadNights(r io.Reader) (list []Night, err error) {
	c := csv.NewReader(r)
	c.FieldsPerRecord, c.TrimLeadingSpace = -1, true
	for n := 1; ; n++ {
		cells, err := c.Read()
		if err == io.EOF {
			break
		}
		if err != nil {
			return nil, fmt.Errorf("line %d: %w", n, err)
		}
		day, err := time.Parse(time.DateOnly, strings.TrimSpace(cells[0]))
		if err != nil {
			if n == 1 {
				continue
			}
			return nil, fmt.Errorf("line %d: %q is no day; write 2019-05-03,-1.2", n, cells[0])
		}
		x := Night{Day: day}
		for k, to := range []*float64{&x.Min, &x.Max} {
			if k+1 >= len(cells) || k == 1 && strings.TrimSpace(cells[2]) == "" {
				if k == 0 {
					return nil, fmt.Errorf("line %d: the least temperature is missing", n)
				}
				continue
			}
			v, err := strconv.ParseFloat(strings.TrimSpace(cells[k+1]), 64)
			if err != nil || !(v > -90 && v < 60) {
				return nil, fmt.Errorf("line %d: %q is no temperature in degrees Celsius", n, cells[k+1])
			}
			*to, x.Both = v, k == 1
		}
		if list = append(list, x); len(list) > mostNights {
			return nil, fmt.Errorf("more than %d days are not read", mostNights)
		}
	}
	slices.SortStableFunc(list, func(a, b Night) int { return a.Day.Compare(b.Day) })
	return list, nil
}

// Frost is what a record of nights says of a place's frosts: days after 1 January in spring and autumn, by the risk
// that there is a later one in spring, or an earlier one in autumn.
type Frost struct {
	Years       int
	Last, First time.Time // one year in ten has frost after, and before; the year says nothing
	LastHalf    time.Time // one in two
	FirstHalf   time.Time
	Risk        float64 // what the record allows to say: a tenth, or more where it is short
}

const leastYears = 5

// FrostOf reckons the dates from a record: the last and first frost of every season that is whole, ranked; the one of
// rank r of n years is passed in r/(n+1) of the years (Weibull; hydrology's convention, from memory). South of the
// equator a season begins in July.
func FrostOf(nights []Night, south bool) (f Frost, err error) {
	type season struct{ last, first, days int }
	seasons := map[int]*season{}
	shift := 0
	if south {
		shift = 181 // days, from 1 July to 1 January
	}
	for _, n := range nights {
		at := n.Day.AddDate(0, 0, -shift)
		s := seasons[at.Year()]
		if s == nil {
			s = &season{last: -1, first: -1}
			seasons[at.Year()] = s
		}
		s.days++
		if n.Min > 0 {
			continue
		}
		if k := at.YearDay(); at.Month() <= time.June {
			s.last = max(s.last, k)
		} else if s.first < 0 {
			s.first = k
		}
	}
	var lasts, firsts []float64
	for _, s := range seasons {
		if s.days < 330 {
			continue // a part of one says nothing of its first or last
		}
		f.Years++
		if s.last >= 0 {
			lasts = append(lasts, float64(s.last))
		}
		if s.first >= 0 {
			firsts = append(firsts, -float64(s.first))
		}
	}
	if f.Years < leastYears {
		return f, fmt.Errorf("%d whole years are too few to say anything of frost: %d and more work", f.Years, leastYears)
	}
	if len(lasts) < f.Years || len(firsts) < f.Years {
		return f, fmt.Errorf("there are years without frost in spring or autumn: type the dates as neighbours know them")
	}
	f.Risk = max(0.1, 1/float64(f.Years+1))
	day := func(list []float64, risk, sign float64) time.Time {
		d := int(math.Round(sign * ranked(list, risk)))
		return date(2023, time.January, d+shift)
	}
	f.Last, f.First = day(lasts, f.Risk, 1), day(firsts, f.Risk, -1)
	f.LastHalf, f.FirstHalf = day(lasts, 0.5, 1), day(firsts, 0.5, -1)
	return f, nil
}

// ranked is the value that is passed with a probability, by the ranks of what was seen.
func ranked(list []float64, p float64) float64 {
	list = slices.Clone(list)
	slices.SortFunc(list, func(a, b float64) int { return int(math.Copysign(1, b-a)) })
	at := p*float64(len(list)+1) - 1
	i := min(max(int(math.Floor(at)), 0), len(list)-1)
	j := min(i+1, len(list)-1)
	part := min(max(at-float64(i), 0), 1)
	return list[i] + (list[j]-list[i])*part
}

// Degrees are a day's growing degrees over a base, in degree days Celsius. Average is (max + min)/2 less the base;
// Limited first limits both to the base and an upper limit (corn's 86/50 F); Sine takes a day's warmth as half a sine
// wave. Sources: McMaster & Wilhelm 1997; Baskerville & Emin 1969 (from memory).
func Degrees(min, max, base, upper float64, how string) float64 {
	switch how {
	case "limited":
		clip := func(v float64) float64 { return math.Min(math.Max(v, base), upper) }
		return (clip(max)+clip(min))/2 - base
	case "sine":
		mean, half := (max+min)/2, (max-min)/2
		switch {
		case min >= base:
			return mean - base
		case max <= base:
			return 0
		}
		t := math.Asin((base - mean) / half)
		return ((mean-base)*(math.Pi/2-t) + half*math.Cos(t)) / math.Pi
	}
	return math.Max(0, (max+min)/2-base)
}
