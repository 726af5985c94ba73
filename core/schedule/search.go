package schedule

import (
	"math"
	"math/rand/v2"
	"slices"
)

// search finds the order of jobs that ends soonest: of all of them where there are few, else of some that take what
// leads to the longest rest first.
func (w *world) search(jobs []Job, least Moment) ([]Done, []int, error) {
	if len(jobs) <= everyOrder {
		return w.every(jobs, least)
	}
	rest := make([]float64, len(jobs)) // minutes from a job's begin to the last end, at least
	for i := len(jobs) - 1; i >= 0; i-- {
		rest[i] += float64(jobs[i].Minutes)
		for _, b := range jobs[i].before {
			rest[b.job] = max(rest[b.job], rest[i]+60*planned(b.wait))
		}
	}
	var best []Done
	var order []int
	r := rand.New(rand.NewPCG(1, uint64(len(jobs))))
	for try := range max(2, min(tries, patience/len(jobs))) {
		weight := make([]float64, len(jobs))
		for i := range jobs {
			switch {
			case try == 0: // as the steps are told
				weight[i] = -float64(i)
			case try == 1:
				weight[i] = rest[i]
			default:
				weight[i] = rest[i] * (0.7 + 0.6*r.Float64())
			}
		}
		o := listed(jobs, weight)
		d, err := w.place(jobs, o, w.people, nil)
		if err != nil {
			return nil, nil, err
		}
		if best == nil || ends(d) < ends(best) {
			best, order = d, o
		}
		if ends(best) == least {
			break
		}
	}
	return best, order, nil
}

// listed is an order of jobs in which each comes after what is before it, and else what weighs more before what weighs
// less.
func listed(jobs []Job, weight []float64) []int {
	done := make([]bool, len(jobs))
	var order []int
	for len(order) < len(jobs) {
		next := -1
		for i, j := range jobs {
			if !done[i] && !slices.ContainsFunc(j.before, func(b link) bool { return !done[b.job] }) &&
				(next < 0 || weight[i] > weight[next]) {
				next = i
			}
		}
		done[next] = true
		order = append(order, next)
	}
	return order
}

// every tries all orders, and leaves those that cannot end sooner than the best so far even with any number of hands.
func (w *world) every(jobs []Job, least Moment) ([]Done, []int, error) {
	var best []Done
	var bestOrder []int
	var failed error
	done := make([]bool, len(jobs))
	var order []int
	var try func(on *ledger, placed []Done, at []bool)
	try = func(on *ledger, placed []Done, at []bool) {
		if failed != nil || best != nil && ends(best) == least {
			return
		}
		if len(order) == len(jobs) {
			if end := endsOf(placed, at); best == nil || end < ends(best) {
				best, bestOrder = slices.Clone(placed), slices.Clone(order)
			}
			return
		}
		for i, j := range jobs {
			if at[i] || slices.ContainsFunc(j.before, func(b link) bool { return !at[b.job] }) {
				continue
			}
			next := on.copy()
			d, err := w.fit(j, next, placed, nil)
			if err != nil {
				failed = err
				return
			}
			placed[i], at[i] = d, true
			order = append(order, i)
			if best == nil || w.bound(jobs, placed, at) < ends(best) {
				try(next, placed, at)
			}
			order = order[:len(order)-1]
			at[i] = false
		}
	}
	try(w.ledger(w.people), make([]Done, len(jobs)), done)
	return best, bestOrder, failed
}

func endsOf(placed []Done, at []bool) (last Moment) {
	for i, d := range placed {
		if at[i] {
			last = max(last, d.End())
		}
	}
	return last
}

// bound is when all can be done at the earliest where some jobs are placed and the rest have all the hands there are.
func (w *world) bound(jobs []Job, placed []Done, at []bool) Moment {
	all := slices.Clone(placed)
	free := w.ledger(math.MaxInt32)
	for i, j := range jobs {
		if at[i] {
			continue
		}
		d, err := w.fit(j, free, all, nil)
		if err != nil {
			return 0
		}
		all[i] = d
	}
	return ends(all)
}

// drawn is how long something takes this time: a triangle's height over at least, as planned and at most.
func drawn(r *rand.Rand, low, likely, high int) int {
	if high <= low {
		return likely
	}
	u, at := r.Float64(), float64(likely-low)/float64(high-low)
	wide := float64(high - low)
	if u < at {
		return low + int(math.Sqrt(u*at)*wide)
	}
	return high - int(math.Sqrt((1-u)*(1-at))*wide)
}

// chances are the days it takes one time in ten at most, and nine times in ten at most, of many runs in which every
// step and every wait takes what it may. The same runs for the same job.
func (w *world) chances(jobs []Job, order []int) (days [2]int, err error) {
	r := rand.New(rand.NewPCG(7, uint64(len(jobs))))
	var list []int
	for range max(20, min(samples, patience/len(jobs))) {
		d, err := w.place(jobs, order, w.people, r)
		if err != nil {
			return days, err
		}
		list = append(list, ends(d).Day()+1)
	}
	slices.Sort(list)
	return [2]int{list[len(list)/10], list[len(list)*9/10]}, nil
}
