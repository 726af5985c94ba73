package planting

import (
	"cmp"
	"fmt"
	"slices"
	"time"

	"chamfer/core/measure"
)

// Task is something to do for what grows, on a stretch of days.
type Task struct {
	Key      string // stable from year to year: the crop, the verb and which
	Do       string // "sow inside", "sow", "set out", "harvest"
	Crop     string // its name; "" for the whole bed
	From, To time.Time
	Why      string
}

// Frosts are when a place's frosts end and begin, in one growing season: Last before First, which may be in the next
// year where the season runs over New Year.
type Frosts struct{ Last, First time.Time }

// FrostsOf are those of a season that begins in a year, by their days of any year.
func FrostsOf(year int, lastMonth time.Month, lastDay int, firstMonth time.Month, firstDay int) Frosts {
	f := Frosts{Last: date(year, lastMonth, lastDay), First: date(year, firstMonth, firstDay)}
	if !f.First.After(f.Last) {
		f.First = date(year+1, firstMonth, firstDay)
	}
	return f
}

func date(y int, m time.Month, d int) time.Time { return time.Date(y, m, d, 0, 0, 0, 0, time.UTC) }

func (f Frosts) spring(weeks int) time.Time { return f.Last.AddDate(0, 0, 7*weeks) }
func (f Frosts) autumn(weeks int) time.Time { return f.First.AddDate(0, 0, -7*weeks) }

// Days of grace: autumn days are short, so all ripens later; a harvest takes its time. Common practice.
const (
	shortDays   = 14
	someHarvest = 14
	feedEvery   = 28
	mostSown    = 8
)

// OfCrop is a crop's year: sown and set out by weeks round the last frost, harvested so many days after, sown again
// while it still ripens. What frost kills is out of the ground or covered by the first of autumn.
func OfCrop(c Crop, f Frosts) (list []Task) {
	add := func(do, nth string, from, to time.Time, why string) {
		if to.Before(from) {
			to = from
		}
		list = append(list, Task{Key: c.ID + "." + do + nth, Do: do, Crop: c.Name, From: from, To: to, Why: why})
	}
	weeks := func(w Weeks) string { return fmt.Sprintf("%+d to %+d weeks from the last frost", w.From, w.To) }
	if c.Indoor != nil {
		add("sow inside", "", f.spring(c.Indoor.From), f.spring(c.Indoor.To), weeks(*c.Indoor))
	}
	var begin, last time.Time
	switch {
	case c.Out != nil && !c.FromSowing || c.Direct == nil && c.Out != nil:
		begin, last = f.spring(c.Out.From), f.spring(c.Out.To)
		add("set out", "", begin, last, weeks(*c.Out))
	case c.Direct != nil:
		begin, last = f.spring(c.Direct.From), f.spring(c.Direct.To)
		back := c.Days.Max + shortDays
		if c.Tender() {
			back += someHarvest
		}
		if latest := f.First.AddDate(0, 0, -back); latest.Before(last) && latest.After(begin) {
			last = latest
		}
		dates := []time.Time{begin}
		if c.Again.Min > 0 {
			for d := begin.AddDate(0, 0, c.Again.Min); !d.After(last) && len(dates) < mostSown; d = d.AddDate(0, 0,
				c.Again.Min) {
				dates = append(dates, d)
			}
			add("sow", "", begin, begin.AddDate(0, 0, 6), weeks(*c.Direct))
			for k, d := range dates[1:] {
				add("sow again", fmt.Sprintf(".%d", k+2), d, d.AddDate(0, 0, 6),
					fmt.Sprintf("every %d days, while it still ripens before the first frost", c.Again.Min))
			}
			last = dates[len(dates)-1]
		} else {
			add("sow", "", begin, last, weeks(*c.Direct))
		}
		if c.Each < 150*measure.Millimetre {
			add("thin", "", begin.AddDate(0, 0, 21), begin.AddDate(0, 0, 35),
				"three to five weeks after sowing, to "+fmt.Sprint(c.Each)+" apart")
		}
	case c.Autumn != nil:
		begin, last = f.autumn(c.Autumn.From), f.autumn(c.Autumn.To)
		if last.Before(begin) {
			begin, last = last, begin
		}
		add("plant", "", begin, last, "weeks round the first frost of autumn")
	default:
		begin, last = f.spring(-2), f.spring(4)
		add("plant", "", begin, last, "about the last frost, while it is dormant or in a pot")
	}
	from := begin.AddDate(0, 0, c.Days.Min)
	to := last.AddDate(0, 0, c.Days.Max+7*c.Picked.Max)
	why := fmt.Sprintf("%d to %d days after it is %s", c.Days.Min, c.Days.Max,
		map[bool]string{true: "sown or planted", false: "set out"}[c.FromSowing])
	if c.Tender() && to.After(f.First) {
		to = f.First
		add("protect from frost", "", f.First.AddDate(0, 0, -7), f.First.AddDate(0, 0, 7),
			"frost kills it; a cover gains a week or two")
	}
	if !c.Perennial || c.Days.Max < 400 {
		add("harvest", "", from, to, why)
	}
	if c.Hungry() == 3 {
		for k, d := 1, begin.AddDate(0, 0, feedEvery); d.Before(to) && k <= 4; k, d = k+1, d.AddDate(0, 0, feedEvery) {
			add("feed", fmt.Sprintf(".%d", k), d, d.AddDate(0, 0, 6), "a heavy feeder, every four weeks")
		}
	}
	if !c.Perennial {
		add("clear", "", to, to.AddDate(0, 0, 14), "after the harvest; what was ill goes off the plot")
	}
	if c.Autumn != nil && c.Direct != nil {
		a, b := f.autumn(c.Autumn.From), f.autumn(c.Autumn.To)
		if b.Before(a) {
			a, b = b, a
		}
		add("sow for autumn", "", a, b, "weeks before the first frost of autumn")
	}
	slices.SortStableFunc(list, func(a, b Task) int { return a.From.Compare(b.From) })
	return list
}

// Care is what a bed itself needs in a year.
type Care struct {
	Compost, Mulch       string // how much, in words; "" where it lies already or none is wanted
	Drip, Oiled, Covered bool   // watered by drip lines; wood that is oiled each year; something grows through winter
	WaterDays            int    // a week
}

// OfBed is a bed's own year.
func OfBed(c Care, f Frosts) (list []Task) {
	add := func(do string, from, to time.Time, why string) {
		list = append(list, Task{Key: "bed." + do, Do: do, From: from, To: to, Why: why})
	}
	add("ready the bed", f.spring(-6), f.spring(-4),
		"before the first sowings: clear it, look over screws, corners and ties")
	if c.Compost != "" {
		add("top up the soil", f.spring(-6), f.spring(-4), c.Compost)
	}
	if c.WaterDays > 0 {
		add("water", f.spring(0), f.First, fmt.Sprintf("%d days a week, less when it rains", c.WaterDays))
	}
	if c.Drip {
		add("open the drip lines", f.spring(-4), f.spring(0), "after the hard frosts: flush, look for leaks")
		add("drain the drip lines", f.autumn(2), f.autumn(0), "before the first hard frost; timer and filter come inside")
	}
	add("mulch", f.spring(3), f.spring(8), "once the soil is warm, 1 to 2 in (25 to 50 mm) of it, off the stems")
	if !c.Covered {
		add("sow a cover crop", f.autumn(8), f.autumn(6), "clover, vetch or oats; rye up to a month after the frost")
	}
	if c.Oiled {
		add("oil the wood", f.autumn(6), f.autumn(2), "on dry wood; rags that are wet with it are laid out flat to dry")
	}
	return list
}

// Sorted puts tasks in the order of their days.
func Sorted(list []Task) []Task {
	slices.SortStableFunc(list, func(a, b Task) int {
		return cmp.Or(a.From.Compare(b.From), cmp.Compare(a.Crop, b.Crop), cmp.Compare(a.Key, b.Key))
	})
	return list
}
