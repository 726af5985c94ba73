package schedule

import (
	"fmt"
	"math"
	"math/rand/v2"
	"slices"
	"testing"
	"time"

	"chamfer/core/design"
	"chamfer/core/work"
	"chamfer/long"
)

// around the clock is a calendar without a break.
func aroundTheClock(people int) design.Calendar {
	c := design.Calendar{People: people, Pace: "usual", Hours: map[string]string{}}
	for _, d := range design.Weekdays {
		c.Hours[d] = "0-24"
	}
	return c
}

// The house of Hillier and Lieberman's Introduction to Operations Research, the chapter on PERT and CPM, in weeks taken
// as hours here (from memory): 44 along A B C E F J L N; four of slack along D G H M, two at I, one at K.
func TestCriticalPath(t *testing.T) {
	house := []struct {
		name   string
		hours  int
		before string
		slack  int
	}{{"A excavate", 2, "", 0}, {"B foundation", 4, "A", 0}, {"C walls", 10, "B", 0}, {"D roof", 6, "C", 4},
		{"E outer plumbing", 4, "C", 0}, {"F inner plumbing", 5, "E", 0}, {"G siding", 7, "D", 4},
		{"H outer painting", 9, "EG", 4}, {"I wiring", 7, "C", 2}, {"J wallboard", 8, "FI", 0}, {"K flooring", 4, "J", 1},
		{"L inner painting", 5, "J", 0}, {"M outer fixtures", 2, "H", 4}, {"N inner fixtures", 6, "KL", 0}}
	var jobs []Job
	for _, a := range house {
		j := Job{Hands: 1, Minutes: a.hours * 60}
		for _, b := range a.before {
			j.before = append(j.before, link{job: int(b - 'A')})
		}
		jobs = append(jobs, j)
	}
	for i, s := range slack(jobs) {
		if s != house[i].slack*60 {
			t.Errorf("%s may slip %d minutes, want %d hours", house[i].name, s, house[i].slack)
		}
	}
	w, err := newWorld(aroundTheClock(1), usual)
	if err != nil {
		t.Fatal(err)
	}
	early, err := w.place(jobs, inOrder(len(jobs)), math.MaxInt32, nil)
	if err != nil || ends(early) != 44*60 {
		t.Errorf("the last ends at %d minutes, %v", ends(early), err)
	}
	one, err := w.place(jobs, inOrder(len(jobs)), 1, nil)
	if err != nil || ends(one) != 79*60 { // one after the other: the sum of all
		t.Errorf("one alone ends at %d minutes, %v", ends(one), err)
	}
	best, order, err := w.search(jobs, 44*60)
	if err != nil || len(order) != len(jobs) || ends(best) != 79*60 {
		t.Errorf("searched: %d minutes, %v", ends(best), err)
	}
}

// Up to ten jobs no order ends sooner: against a search that knows nothing of orders, but begins every job of a few at
// every half hour it could be begun, with its own reckoning of who is busy.
func TestAgainstEveryStart(t *testing.T) {
	r := rand.New(rand.NewPCG(3, 9))
	better := 0
	for n := range long.Of(300) {
		c := design.Calendar{People: 1 + r.IntN(2), Pace: "usual", Hours: map[string]string{"sat": "9-12", "sun": "9-11"}}
		w, err := newWorld(c, usual)
		if err != nil {
			t.Fatal(err)
		}
		var jobs []Job
		for i := range 2 + r.IntN(3) {
			j := Job{Hands: 1 + r.IntN(c.People), Minutes: 30 * (1 + r.IntN(4))}
			for b := range i {
				if r.IntN(3) == 0 {
					l := link{job: b}
					if r.IntN(2) == 0 {
						l.wait = work.Wait{Low: 1, High: 1}
					}
					j.before = append(j.before, l)
				}
			}
			jobs = append(jobs, j)
		}
		got, _, err := w.every(jobs, 0)
		if err != nil {
			t.Fatal(err)
		}
		first, err := w.place(jobs, inOrder(len(jobs)), w.people, nil)
		if err != nil {
			t.Fatal(err)
		}
		if ends(got) < ends(first) {
			better++
		}
		if want := byEveryStart(w, jobs); ends(got) != want {
			t.Errorf("%d: %+v by %d: ends at %d, and could at %d", n, jobs, w.people, ends(got), want)
		}
	}
	if better == 0 {
		t.Error("the order they are told in was always the best: nothing was searched")
	}
}

// byEveryStart is the soonest end over all begins at half hours of the working time there is.
func byEveryStart(w *world, jobs []Job) Moment {
	var slots []Moment // half hours that are worked
	for n := range 16 {
		for _, s := range w.hours[(w.first+n)%7] {
			for m := s.From; m < s.To; m += 30 {
				slots = append(slots, Moment(n*day+m))
			}
		}
	}
	best := Moment(math.MaxInt64)
	end := make([]Moment, len(jobs))
	busy := make([]int, len(slots))
	var put func(i int, last Moment)
	put = func(i int, last Moment) {
		if last >= best {
			return
		}
		if i == len(jobs) {
			best = last
			return
		}
		j := jobs[i]
		ready := Moment(0)
		for _, b := range j.before {
			ready = max(ready, end[b.job]+Moment(60*b.wait.High))
		}
		need := j.Minutes / 30
		for k := range slots {
			if slots[k] < ready || k+need > len(slots) ||
				slices.ContainsFunc(busy[k:k+need], func(n int) bool { return n+j.Hands > w.people }) {
				continue
			}
			for x := k; x < k+need; x++ {
				busy[x] += j.Hands
			}
			end[i] = slots[k+need-1] + 30
			put(i+1, max(last, end[i]))
			for x := k; x < k+need; x++ {
				busy[x] -= j.Hands
			}
		}
	}
	put(0, 0)
	return best
}

// What sets by warmth waits longer where it is cold: seven days at 20 °C are ten and a half at 10 (Nurse and Saul, ASTM
// C1074, from memory), and nothing sets below 5. Rain, frost, days away and lorries that come on Tuesdays move work.
func TestWeather(t *testing.T) {
	start := time.Date(2027, 4, 3, 0, 0, 0, 0, time.UTC) // a Saturday
	c := aroundTheClock(1)
	for n := range 40 {
		c.Forecast = append(c.Forecast, design.Weather{Day: start.AddDate(0, 0, n).Format(time.DateOnly), Low: 8, High: 12})
	}
	at := func(c design.Calendar) *world {
		w, err := newWorld(c, start)
		if err != nil {
			t.Fatal(err)
		}
		return w
	}
	if got := at(c).after(0, 7*24, true); got != Moment(10.5*day) {
		t.Errorf("7 days at 20 °C are %.2f at 10", float64(got)/day)
	}
	if got := at(c).after(0, 7*24, false); got != 7*day {
		t.Errorf("soil settles in %.2f days where it is cold", float64(got)/day)
	}
	c.Forecast[1].Low, c.Forecast[1].High = -4, 2 // a day on which nothing sets, and two before it nothing is laid
	if got := at(c).after(0, 7*24, true); got != Moment(11.5*day) {
		t.Errorf("with a day of frost: %.2f days", float64(got)/day)
	}
	c.Forecast[2].Rain = 6
	c.Away = []string{"2027-04-06"}
	c.Brought = []string{"tue"}
	for _, x := range []struct {
		what string
		job  Job
		day  int
	}{{"anything", Job{}, 0}, {"mortar", Job{weather: []work.Weather{work.NoFrost}}, 2},
		{"oil", Job{weather: []work.Weather{work.NoRain}}, 0}, {"a lorry", Job{brought: true}, 3}} {
		x.job.Hands, x.job.Minutes = 1, 60
		d, err := at(c).place([]Job{x.job}, []int{0}, 1, nil)
		if err != nil || d[0].Begin().Day() != x.day {
			t.Errorf("%s: on day %d, want %d; %v", x.what, d[0].Begin().Day(), x.day, err)
		}
	}
	d, err := at(c).place([]Job{{Hands: 1, Minutes: 3 * day, weather: []work.Weather{work.NoRain}}}, []int{0}, 1, nil)
	if err != nil || len(d[0].Spans) != 2 || d[0].End() != 5*day { // broken off by the rain and by the day away
		t.Errorf("three dry days: %+v, %v", d, err)
	}
}

// Every schedule of random jobs keeps to what it was given: nothing before what comes before it, nobody in two places,
// nothing outside of the hours; the same each time, never later than one job after the other would end.
func TestSchedulesHold(t *testing.T) {
	r := rand.New(rand.NewPCG(5, 5))
	for n := range long.Of(200) {
		c := design.Calendar{People: 1 + r.IntN(3), Pace: []string{"quick", "usual", "careful"}[r.IntN(3)],
			Hours: map[string]string{"sat": "9-12, 13-17", "wed": "18-20:30"}, Start: "2027-04-03",
			Away: []string{"2027-04-10"}}
		var steps []work.Step
		for i := range 3 + r.IntN(25) {
			s := work.Step{ID: fmt.Sprint(i), Hands: 1 + r.IntN(3), Phase: work.Phase(r.IntN(16)),
				Chores: []work.Chore{{Rate: work.Rates()["handle"], N: float64(1 + r.IntN(60))}}}
			if r.IntN(8) == 0 {
				s.Rounds, s.Between = 2, work.Waits()["day-joint"]
			}
			for b := range i {
				if r.IntN(5) == 0 {
					before := work.Before{ID: fmt.Sprint(b)}
					if r.IntN(4) == 0 {
						before.Wait = work.Waits()["soil"]
					}
					s.After = append(s.After, before)
				}
			}
			steps = append(steps, s)
		}
		p, err := Of(steps, c, nil)
		if err != nil {
			t.Fatal(err)
		}
		again, err := Of(steps, c, nil)
		if err != nil || fmt.Sprint(p) != fmt.Sprint(again) {
			t.Fatalf("%d: not the same twice", n)
		}
		held(t, n, p, c)
		if p.End < p.Least || p.Long[0] > p.Long[1] || p.Proved && len(p.Jobs) > everyOrder && p.End != p.Least {
			t.Errorf("%d: ends at %d, least %d, %v, proved %v", n, p.End, p.Least, p.Long, p.Proved)
		}
	}
}

func held(t *testing.T, n int, p Plan, c design.Calendar) {
	t.Helper()
	w, err := newWorld(c, p.Start)
	if err != nil {
		t.Fatal(err)
	}
	at := map[Moment]int{}
	for i, d := range p.Done {
		minutes := 0
		for _, s := range d.Spans {
			minutes += int(s.To - s.From)
			for m := s.From; m < s.To; m += 5 {
				at[m] += p.Jobs[i].Hands
				if !slices.ContainsFunc(w.shifts(m.Day(), p.Jobs[i]), func(s design.Shift) bool {
					return int(m)%day >= s.From && int(m)%day < s.To
				}) {
					t.Errorf("%d: job %d is done outside of the hours", n, i)
				}
			}
		}
		if minutes != p.Jobs[i].Minutes {
			t.Errorf("%d: job %d takes %d minutes of %d", n, i, minutes, p.Jobs[i].Minutes)
		}
		for _, b := range p.Jobs[i].before {
			if d.Begin() < p.Done[b.job].End()+Moment(60*planned(b.wait)) {
				t.Errorf("%d: job %d is begun too soon after %d", n, i, b.job)
			}
		}
	}
	for m, hands := range at {
		if hands > c.People {
			t.Errorf("%d: %d hands at %d, of %d", n, hands, m, c.People)
		}
	}
}
