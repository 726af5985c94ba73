package schedule

import (
	"math"
	"slices"
	"time"

	"chamfer/core/design"
	"chamfer/core/work"
)

// world is the days there are: their hours, and what weather they have.
type world struct {
	people  int
	hours   [7][]design.Shift // from Monday on
	away    map[int]bool
	brought [7]bool
	any     bool // lorries come whenever somebody works
	first   int  // weekday of the first day, 0 on Monday
	weather map[int]design.Weather
}

// lorry is when lorries come, on the days they do.
var lorry = []design.Shift{{From: 8 * 60, To: 17 * 60}}

func newWorld(c design.Calendar, start time.Time) (*world, error) {
	w := &world{people: max(1, c.People), away: map[int]bool{}, weather: map[int]design.Weather{},
		first: (int(start.Weekday()) + 6) % 7, any: len(c.Brought) == 0}
	for i, name := range design.Weekdays {
		list, err := design.ReadHours(c.Hours[name])
		if err != nil {
			return nil, err
		}
		w.hours[i] = list
		w.brought[i] = slices.Contains(c.Brought, name)
	}
	nth := func(text string) (int, bool) {
		t, err := design.ReadDay(text)
		return int(math.Round(t.Sub(start).Hours() / 24)), err == nil
	}
	for _, day := range c.Away {
		if n, ok := nth(day); ok {
			w.away[n] = true
		}
	}
	for _, x := range c.Forecast {
		if n, ok := nth(x.Day); ok {
			w.weather[n] = x
		}
	}
	return w, nil
}

// Frost and rain that stop work: under 5 °C nothing that sets is laid, and frost of the two nights after spoils it (ACI
// 306R, from memory); rain that wets what has to dry (common practice).
const (
	coldest = 5.0
	wetting = 1.0 // mm
)

// shifts are the hours of a day for a job.
func (w *world) shifts(n int, j Job) []design.Shift {
	weekday := (w.first + n) % 7
	if j.brought && !w.any {
		if !w.brought[weekday] {
			return nil
		}
		return lorry
	}
	if w.away[n] {
		return nil
	}
	for _, x := range j.weather {
		at, known := w.weather[n]
		switch {
		case x == work.NoRain && known && at.Rain >= wetting:
			return nil
		case x == work.NoFrost && known && at.High < coldest:
			return nil
		}
		for k := 1; k <= 2 && x == work.NoFrost; k++ {
			if night, known := w.weather[n+k]; known && night.Low < 0 {
				return nil
			}
		}
	}
	return w.hours[weekday]
}

// after is so many hours later; what sets by warmth takes longer on days that are colder than the 20 °C its time is
// for, where that is known, and stands still below 5 °C.
func (w *world) after(from Moment, hours float64, cold bool) Moment {
	if !cold {
		return from + Moment(math.Ceil(hours*60))
	}
	m, left := float64(from), hours*60
	for range horizon {
		n := int(m) / day
		speed := 1.0
		if at, known := w.weather[n]; known {
			if mean := (at.Low + at.High) / 2; mean < coldest {
				speed = 0
			} else {
				speed = hours / (work.Wait{High: hours, Cold: true}).At(mean).High
			}
		}
		rest := float64((n+1)*day) - m
		if speed > 0 && left <= rest*speed {
			return Moment(math.Ceil(m + left/speed))
		}
		left -= rest * speed
		m += rest
	}
	return Moment(m)
}

// ledger is who is busy when, by day: nobody works from one day into the next.
type ledger struct {
	people int
	days   map[int][]busy
	full   Moment // until here nobody is free
}

type busy struct {
	Span
	hands int
}

func (w *world) ledger(people int) *ledger { return &ledger{people: people, days: map[int][]busy{}} }

func (l *ledger) copy() *ledger {
	c := &ledger{people: l.people, days: map[int][]busy{}, full: l.full}
	for day, list := range l.days {
		c.days[day] = slices.Clone(list)
	}
	return c
}

// add notes that so many hands are busy.
func (l *ledger) add(s Span, hands int) {
	for s.From.Day() < s.To.Day() { // over midnight
		night := Moment((s.From.Day() + 1) * day)
		l.days[s.From.Day()] = append(l.days[s.From.Day()], busy{Span{s.From, night}, hands})
		s.From = night
	}
	if s.From < s.To {
		l.days[s.From.Day()] = append(l.days[s.From.Day()], busy{s, hands})
	}
}

// at is how many hands are busy at a moment, and when the first of them is free again.
func (l *ledger) at(m Moment) (used int, soonest Moment) {
	soonest = math.MaxInt64
	for _, b := range l.days[m.Day()] {
		if b.From <= m && m < b.To {
			used += b.hands
			soonest = min(soonest, b.To)
		}
	}
	return used, soonest
}

// free is until when so many hands are free from a moment on, at most until to, on the same day; and where they are not
// free at once, the moment after which to try again.
func (l *ledger) free(from, to Moment, hands int) (until, again Moment) {
	hands = min(hands, l.people)
	if used, soonest := l.at(from); used+hands > l.people {
		return from, soonest
	}
	until = to
	for _, b := range l.days[from.Day()] {
		if b.From > from && b.From < until {
			if used, soonest := l.at(b.From); used+hands > l.people {
				until, again = b.From, soonest
			}
		}
	}
	return until, again
}

// pass moves full on to the first moment of anybody's hours at which somebody is free.
func (l *ledger) pass(w *world) Moment {
	for n := l.full.Day(); n <= horizon; n++ {
		for _, s := range w.shifts(n, Job{}) {
			m := max(l.full, Moment(n*day+s.From))
			for m < Moment(n*day+s.To) {
				used, soonest := l.at(m)
				if used < l.people {
					l.full = m
					return m
				}
				m = soonest
			}
		}
	}
	return l.full
}

// take puts a job into the first hours from ready on that it can have without a break but those of the day, and notes
// that its hands are busy then.
func (l *ledger) take(w *world, j Job, ready Moment, minutes int) ([]Span, error) {
	start, apart := ready, j.brought && !w.any
	if !apart && l.people < math.MaxInt32 {
		start = max(start, l.pass(w))
	}
	for {
		spans, again, ok := l.try(w, j, start, minutes)
		if ok {
			if l.people < math.MaxInt32 && !apart {
				for _, s := range spans {
					l.add(s, j.Hands)
				}
			}
			return spans, nil
		}
		if again <= start || again.Day() > horizon {
			return nil, errNoRoom(horizon)
		}
		start = again
	}
}

// try puts a job into the hours from a moment on; where others are at work in them, it returns when to try again.
func (l *ledger) try(w *world, j Job, from Moment, minutes int) (spans []Span, again Moment, ok bool) {
	left := Moment(minutes)
	for n := from.Day(); n <= horizon; n++ {
		for _, s := range w.shifts(n, j) {
			a, b := max(from, Moment(n*day+s.From)), Moment(n*day+s.To)
			if a >= b {
				continue
			}
			b = min(b, a+left)
			until, next := b, Moment(0)
			if !(j.brought && !w.any) {
				until, next = l.free(a, b, j.Hands)
			}
			if until < b { // somebody else is at work there
				return nil, max(next, a+1), false
			}
			if k := len(spans) - 1; k >= 0 && spans[k].To == a {
				spans[k].To = b
			} else {
				spans = append(spans, Span{a, b})
			}
			if left -= b - a; left == 0 {
				return spans, 0, true
			}
		}
	}
	return nil, horizon*day + day, false
}
