// Package schedule says when each step of a job is done, by whom there is to do it, in the hours they have.
//
//	cut ──> drill ──> make up ──┐
//	                            ├──> join ──> fill ··(a week)··> plant
//	dig ──> base ───────────────┘
//
// A step is begun as soon as what comes before it is done, what sets, settles or dries before it has had its time, and
// there are hands for it; it goes on through the hours of one day after the other until it is done. Waiting goes on by
// night. The order in which steps are taken that end together soonest is searched for: all orders where there are few
// steps, else the best of many; how early it could be done with any number of people is told beside it, and where the
// two are the same nothing can be sooner.
package schedule

import (
	"fmt"
	"math"
	"math/rand/v2"
	"slices"
	"time"

	"chamfer/core/design"
	"chamfer/core/work"
)

// Moment is a time on the clock of the place, in minutes after the midnight before the first day.
type Moment int

// day is how many minutes there are in one.
const day = 24 * 60

// Day is which day it falls on, 0 for the first.
func (m Moment) Day() int { return int(m) / day }

// Span is a stretch of work.
type Span struct{ From, To Moment }

// link is a job that comes before another, and how long in hours has to pass between them: as it is planned, at least
// and to be sure.
type link struct {
	job       int
	wait      work.Wait
	low, high float64
}

// Job is one go of a step.
type Job struct {
	Step   int // in the plan's steps
	Go, Of int // the second of three coats
	// Minutes of the clock it takes with so many hands, as they are planned, at least and at most.
	Hands               int
	Minutes, Short, Far int
	brought             bool // it comes by lorry
	weather             []work.Weather
	before              []link
}

// Done is when a job is done.
type Done struct {
	Spans []Span
	Waits Moment // until when it had to wait before it, where that is after what came before was done
	On    int    // the job that it waited for last, -1 for none
	Early Moment // how early it could be done with any number of hands
}

// Begin is when it is begun, End when it is done.
func (d Done) Begin() Moment { return d.Spans[0].From }

// End is when it is done.
func (d Done) End() Moment { return d.Spans[len(d.Spans)-1].To }

// Plan is when a whole job is done.
type Plan struct {
	Jobs   []Job
	Done   []Done
	Dated  bool      // it begins on a day that was decided; else on some Saturday
	Start  time.Time // that day
	End    Moment
	Least  Moment // what waits for one another cannot end sooner, however much is done side by side
	Proved bool   // no order of these steps, each begun as soon as it can be, ends sooner
	Slack  []int  // minutes each job may slip before the last one does, were there hands for all at once
	Long   [2]int // so many days it takes with luck and without: one time in ten is shorter, one longer
	People int
	Help   int // so many more hands some step wants than there are
}

// Most jobs of which every order is tried, and how many orders are tried where there are more.
const (
	everyOrder = 10
	tries      = 24
	samples    = 200
	patience   = 12000   // jobs that are put into their hours for either, at most
	horizon    = 3 * 366 // days, after which something never fits
)

// usual is the first day where none is decided: a Saturday.
var usual = time.Date(2000, 1, 1, 0, 0, 0, 0, time.UTC)

// Of is when the steps of a plan are done by who there is; those that are done already take no time, and what is left
// goes on from the day that was decided. It fails where the days and hours leave no room for a step.
func Of(steps []work.Step, c design.Calendar, done map[string]bool) (Plan, error) {
	p := Plan{Start: usual, People: c.People}
	begin := c.Start
	if c.Resume != "" && slices.ContainsFunc(steps, func(s work.Step) bool { return done[s.ID] }) {
		begin = c.Resume
	}
	if t, err := design.ReadDay(begin); err == nil && begin != "" {
		p.Start, p.Dated = t, true
	}
	w, err := newWorld(c, p.Start)
	if err != nil {
		return Plan{}, err
	}
	p.Jobs = jobsOf(steps, c, done, &p.Help)
	if len(p.Jobs) == 0 { // all is done
		return p, nil
	}
	early, err := w.place(p.Jobs, inOrder(len(p.Jobs)), math.MaxInt32, nil)
	if err != nil {
		return Plan{}, err
	}
	p.Least = ends(early)
	best, order, err := w.search(p.Jobs, p.Least)
	if err != nil {
		return Plan{}, err
	}
	w.lateLorries(p.Jobs, best)
	p.Done = best
	p.End = ends(best)
	p.Proved = p.End == p.Least || len(p.Jobs) <= everyOrder
	for i := range p.Done {
		p.Done[i].Early = early[i].End()
	}
	p.Slack = slack(p.Jobs)
	p.Long, err = w.chances(p.Jobs, order)
	return p, err
}

// Lasts writes so many minutes: "1 h 20 min".
func Lasts(minutes int) string {
	switch h, m := minutes/60, minutes%60; {
	case h == 0:
		return fmt.Sprintf("%d min", m)
	case m == 0:
		return fmt.Sprintf("%d h", h)
	default:
		return fmt.Sprintf("%d h %d min", h, m)
	}
}

// Clock is its time of day.
func (m Moment) Clock() string { return fmt.Sprintf("%d:%02d", int(m)%day/60, int(m)%60) }

// Minutes are what is left to do, for one person.
func (p Plan) Minutes() (sum int) {
	for _, j := range p.Jobs {
		sum += j.Minutes * j.Hands
	}
	return sum
}

// Stretch is one span of a job, the nth of it.
type Stretch struct {
	Job, Nth int
	Span
}

// Stretches are all spans of work, from the first to the last.
func (p Plan) Stretches() (list []Stretch) {
	for i, d := range p.Done {
		for n, s := range d.Spans {
			list = append(list, Stretch{i, n, s})
		}
	}
	slices.SortStableFunc(list, func(a, b Stretch) int { return int(a.From - b.From) })
	return list
}

// Date is the day of a moment.
func (p Plan) Date(m Moment) time.Time { return p.Start.AddDate(0, 0, m.Day()) }

// ends is when the last job is done.
func ends(list []Done) (last Moment) {
	for _, d := range list {
		last = max(last, d.End())
	}
	return last
}

func inOrder(n int) []int {
	order := make([]int, n)
	for i := range order {
		order[i] = i
	}
	return order
}

// most hands that share one step where it can be shared: more are in one another's way (common practice).
const most = 4

// shared reports whether a step goes quicker with more hands than it needs.
func shared(s work.Step) bool {
	switch s.Phase {
	case work.Saw, work.Tally, work.SetOut, work.Lead, work.Found, work.Stand, work.Tip, work.Brush, work.Cover:
		return true
	}
	return false
}

// jobsOf are the goes of all steps.
func jobsOf(steps []work.Step, c design.Calendar, done map[string]bool, help *int) []Job {
	var jobs []Job
	last := map[string]int{} // job of a step's last go
	for i, s := range steps {
		if done[s.ID] {
			continue
		}
		goes := max(1, s.Rounds)
		hands := s.Hands
		if hands > c.People {
			*help = max(*help, hands-c.People)
			hands = c.People
		}
		if shared(s) {
			hands = max(hands, min(c.People, most))
		}
		low, high := s.Minutes()
		low, high = low*c.Factor(), high*c.Factor()
		for g := range goes {
			j := Job{Step: i, Go: g + 1, Of: goes, Hands: hands, weather: s.Weather, brought: s.ID == "soil" || s.ID == "blocks"}
			part := float64(hands * goes)
			j.Short, j.Far = whole(low/part), whole(high/part)
			j.Minutes = whole((low + c.Between()*(high-low)) / part)
			if g > 0 {
				j.before = []link{{len(jobs) - 1, s.Between, s.Between.Low, s.Between.High}}
			} else {
				for _, b := range s.After {
					if from, ok := last[b.ID]; ok {
						j.before = append(j.before, link{from, b.Wait, b.Wait.Low, b.Wait.High})
					}
				}
			}
			jobs = append(jobs, j)
		}
		last[s.ID] = len(jobs) - 1
	}
	return jobs
}

// whole is so many minutes, in steps of five.
func whole(minutes float64) int { return max(5, int(math.Ceil(minutes/5))*5) }

// place puts jobs into their hours in an order, with so many hands; chance, where there is one, draws how long each
// takes and waits.
func (w *world) place(jobs []Job, order []int, people int, chance *rand.Rand) ([]Done, error) {
	on := w.ledger(people)
	placed := make([]Done, len(jobs))
	for _, i := range order {
		d, err := w.fit(jobs[i], on, placed, chance)
		if err != nil {
			return nil, err
		}
		placed[i] = d
	}
	return placed, nil
}

// planned is how long is waited where nobody can say: to be sure for what sets, halfway for what settles.
func planned(wait work.Wait) float64 {
	if wait.Cold {
		return wait.High
	}
	return (wait.Low + wait.High) / 2
}

// fit puts one job into the first hours it fits into after what comes before it.
func (w *world) fit(j Job, on *ledger, placed []Done, chance *rand.Rand) (Done, error) {
	d := Done{On: -1}
	minutes := j.Minutes
	if chance != nil {
		minutes = drawn(chance, j.Short, j.Minutes, j.Far)
	}
	ready := Moment(0)
	for _, b := range j.before {
		end := placed[b.job].End()
		if b.wait.High > 0 {
			hours := planned(b.wait)
			if chance != nil && !b.wait.Cold {
				hours = b.low + chance.Float64()*(b.high-b.low)
			}
			end = w.after(end, hours, b.wait.Cold)
		}
		if end > ready {
			ready, d.On, d.Waits = end, b.job, 0
			if b.wait.High > 0 {
				d.Waits = end
			}
		}
	}
	spans, err := on.take(w, j, ready, minutes)
	d.Spans = spans
	return d, err
}

// lateLorries puts off what is brought until the last day before it is wanted: nobody wants it in the way sooner.
func (w *world) lateLorries(jobs []Job, done []Done) {
	for i, j := range jobs {
		if !j.brought {
			continue
		}
		wanted := Moment(-1)
		on := w.ledger(w.people)
		for k, o := range jobs {
			if k != i && !(o.brought && !w.any) {
				for _, s := range done[k].Spans {
					on.add(s, o.Hands)
				}
			}
			for _, b := range o.before {
				if b.job == i && (wanted < 0 || done[k].Begin() < wanted) {
					wanted = done[k].Begin()
				}
			}
		}
		for n := wanted.Day(); n > done[i].Begin().Day(); n-- {
			spans, _, ok := on.try(w, j, Moment(n*day), j.Minutes)
			if ok && spans[len(spans)-1].To <= wanted {
				done[i].Spans = spans
				break
			}
		}
	}
}

// slack is how many minutes of work and waiting each job may slip without the last ending later: the latest it may be
// done less the earliest, forward and backward through what comes before what (the critical path method).
func slack(jobs []Job) []int {
	early, late := make([]float64, len(jobs)), make([]float64, len(jobs)) // when each is done
	last := 0.0
	for i, j := range jobs {
		begin := 0.0
		for _, b := range j.before {
			begin = max(begin, early[b.job]+60*planned(b.wait))
		}
		early[i] = begin + float64(j.Minutes)
		last = max(last, early[i])
	}
	for i := range late {
		late[i] = last
	}
	list := make([]int, len(jobs))
	for i := len(jobs) - 1; i >= 0; i-- {
		for _, b := range jobs[i].before {
			late[b.job] = min(late[b.job], late[i]-float64(jobs[i].Minutes)-60*planned(b.wait))
		}
		list[i] = int(math.Round(late[i] - early[i]))
	}
	return list
}

// errNoRoom says that a job fits into no day.
func errNoRoom(days int) error {
	return fmt.Errorf("no day of the next %d has room for a step: more"+
		" hours, fewer days away, or other weather work", days)
}
