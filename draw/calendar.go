package draw

import (
	"fmt"
	"strings"
	"time"

	"chamfer/core/design"
	"chamfer/core/plan"
	"chamfer/core/schedule"
)

// Calendar draws when the steps are done as a calendar on a wall: a row for each week, a box for each day, in it what
// is done that day from morning to evening, as tall as it takes long; below, hatched, what waits. Where days have no
// date they are counted.
//
//	Mon   Tue   ...   Sat         Sun
//	                  3 April     4
//	                  [1 Bring ]  [5 Make up]
//	                  [2 Cut   ]  //the glue//
func Calendar(p *plan.Plan, k schedule.Plan, s Sheet) string {
	d := &wall{plan: p, k: k, s: s}
	d.fill()
	d.columns()
	tall := d.head()
	for w := range d.weeks {
		tall += d.tall(w)
	}
	d.open(s.W, tall+2, "When the steps are done", s.Own)
	d.draw()
	return d.close()
}

// wall is a calendar as it is drawn.
type wall struct {
	page
	plan  *plan.Plan
	k     schedule.Plan
	s     Sheet
	at    [8]float64 // where the columns of the weekdays begin and end
	weeks int
	days  map[int][]block // by day, counted from the Monday of the first week
	waits map[int]string
	lead  int // days of the first week before the first day
}

// block is what is done of a step on a day.
type block struct {
	step    int
	minutes int
}

// minute is how tall one is, at the size of text that calendars for a desk have.
const minute = 0.1

// fill sorts the work into its days.
func (d *wall) fill() {
	d.lead = (int(d.k.Start.Weekday()) + 6) % 7
	d.days, d.waits = map[int][]block{}, map[int]string{}
	for _, x := range d.k.Stretches() {
		day, step := d.lead+x.From.Day(), d.k.Jobs[x.Job].Step
		list := d.days[day]
		if n := len(list) - 1; n >= 0 && list[n].step == step {
			list[n].minutes += int(x.To - x.From)
			continue
		}
		d.days[day] = append(list, block{step, int(x.To - x.From)})
	}
	for i, x := range d.k.Done {
		if x.Waits > 0 && x.On >= 0 {
			words := ""
			for _, b := range d.plan.Steps[d.k.Jobs[i].Step].After {
				if b.Wait.High > 0 && b.ID == d.plan.Steps[d.k.Jobs[x.On].Step].ID {
					words = b.Wait.What
				}
			}
			for day := d.k.Done[x.On].End().Day() + 1; words != "" && day <= x.Waits.Day(); day++ {
				d.waits[d.lead+day] = words
			}
		}
	}
	d.weeks = (d.lead+d.k.End.Day())/7 + 1
}

// columns are as wide as there is to say on their days: those on which nobody works are narrow.
func (d *wall) columns() {
	const narrow = 0.34
	var wide [7]float64
	sum := 0.0
	for k := range wide {
		wide[k] = narrow
		for w := range d.weeks {
			if len(d.days[7*w+k]) > 0 {
				wide[k] = 1
			}
		}
		sum += wide[k]
	}
	d.at[0] = 1
	for k := range wide {
		d.at[k+1] = d.at[k] + (d.s.W-2)*wide[k]/sum
	}
}

// cell is how wide a weekday's column is.
func (d *wall) cell(weekday int) float64 { return d.at[weekday+1] - d.at[weekday] }

// font is the size of what stands in a box.
func (d *wall) font() float64 { return d.s.Font * 0.82 }

// head is how tall the names of the weekdays are.
func (d *wall) head() float64 { return d.s.Font * 1.9 }

// high is how tall a block is.
func (d *wall) high(b block) float64 {
	return max(d.font()*1.5, float64(b.minutes)*minute*d.s.Font/14)
}

// tall is how tall a week is: its fullest day, with the date above and what waits below.
func (d *wall) tall(week int) float64 {
	most := d.font() * 1.5
	for k := range 7 {
		h := 0.0
		for _, b := range d.days[7*week+k] {
			h += d.high(b) + 2
		}
		if d.waits[7*week+k] != "" {
			h += d.font() * 1.7
		}
		most = max(most, h)
	}
	return most + d.s.Font*1.7
}

func (d *wall) draw() {
	for k, name := range []string{"Mon", "Tue", "Wed", "Thu", "Fri", "Sat", "Sun"} {
		if d.s.W < 600 {
			name = name[:2]
		}
		d.text("d-text d-name", pt{(d.at[k] + d.at[k+1]) / 2, d.s.Font * 1.3}, d.s.Font, 0, name)
	}
	away := map[string]bool{}
	forecast := map[string]design.Weather{}
	c := d.plan.Design.CalendarOr()
	for _, day := range c.Away {
		away[day] = true
	}
	for _, w := range c.Forecast {
		forecast[w.Day] = w
	}
	top := d.head()
	for w := range d.weeks {
		tall := d.tall(w)
		for k := range 7 {
			at := 7*w + k
			x, cell := d.at[k], d.cell(k)
			date := d.k.Start.AddDate(0, 0, at-d.lead)
			iso := date.Format(time.DateOnly)
			class := "d-day"
			switch {
			case at < d.lead || at-d.lead > d.k.End.Day():
				class = "d-day d-day-off"
			case away[iso] && d.k.Dated:
				class = "d-day d-day-away"
			}
			d.add(`<rect class="%s" x="%s" y="%s" width="%s" height="%s"/>`, class, n(x), n(top), n(cell), n(tall))
			if class == "d-day d-day-off" {
				continue
			}
			d.text("d-text d-start d-name", pt{x + 5, top + d.s.Font*1.1}, d.s.Font*0.85, 0, d.named(at, date, k))
			if f, ok := forecast[iso]; ok && d.k.Dated && cell > 90 {
				if words := weatherWords(f); words != "" {
					left := x + cell - 5 - textWidth(words, d.font())
					d.text("d-text d-start d-name", pt{left, top + d.s.Font*1.1}, d.font(), 0, words)
				}
			}
			y := top + d.s.Font*1.5
			for _, b := range d.days[at] {
				d.block(b, x+3, y, cell-6)
				y += d.high(b) + 2
			}
		}
		for at := 7 * w; at < 7*w+7; at++ {
			if words := d.waits[at]; words != "" {
				d.wait(words, top+tall-d.font()*1.6, at)
			}
		}
		top += tall
	}
}

// weatherWords are what of a day's weather matters.
func weatherWords(w design.Weather) string {
	var list []string
	if w.Low < 0 {
		list = append(list, "frost")
	}
	if w.Rain >= 1 {
		list = append(list, "rain")
	}
	return strings.Join(list, ", ")
}

// named is what a day is called: its date, with the month where that is new, or which day it is.
func (d *wall) named(at int, date time.Time, weekday int) string {
	if !d.k.Dated {
		return fmt.Sprintf("day %d", at-d.lead+1)
	}
	if (at == d.lead || date.Day() == 1 || weekday == 0 || date.Day() < 8 && weekday == 5) &&
		textWidth(date.Format("2 January"), d.s.Font*0.85) < d.cell(weekday)-6 {
		return date.Format("2 January")
	}
	return date.Format("2")
}

// block is a step in its day.
func (d *wall) block(b block, x, y, w float64) {
	step := d.plan.Steps[b.step]
	h := d.high(b)
	label := fmt.Sprintf("%d", b.step+1)
	if w > 84 {
		label = cut(fmt.Sprintf("%d %s", b.step+1, d.plan.Say(step.Title)), w-8, d.font())
	}
	name := ""
	title := fmt.Sprintf("%d %s, %s", b.step+1, d.plan.Say(step.Title), schedule.Lasts(b.minutes))
	if strings.HasPrefix(title, label) { // what is cut short is read as it is shown
		name = fmt.Sprintf(` aria-label="%s"`, esc(title))
	}
	if d.s.Pick != "" {
		d.add(`<a class="day-step" href="%s"%s>`, esc(fmt.Sprintf(d.s.Pick, step.ID)), name)
	} else {
		d.add(`<g role="img" aria-label="%s">`, esc(title))
	}
	d.add(`<rect class="d-work" x="%s" y="%s" width="%s" height="%s" rx="2"/>`, n(x), n(y), n(w), n(h))
	d.text("d-text d-start", pt{x + 4, y + d.font()*1.1}, d.font(), 0, label)
	if d.s.Pick != "" {
		d.add("</a>")
	} else {
		d.add("</g>")
	}
}

// wait is what waits on a day; its words stand where it begins and at the head of each week.
func (d *wall) wait(words string, y float64, at int) {
	h, x := d.font()*1.4, d.at[at%7]
	d.add(`<rect class="d-waits" x="%s" y="%s" width="%s" height="%s"/>`, n(x), n(y), n(d.cell(at%7)), n(h))
	if d.waits[at-1] == words && at%7 != 0 {
		return
	}
	last := at
	for last%7 < 6 && d.waits[last+1] == words {
		last++
	}
	words = cut(d.plan.Say(words), d.at[last%7+1]-x-8, d.font())
	d.text("d-text d-start d-name", pt{x + 4, y + d.font()*1.05}, d.font(), 0, words)
}

// cut shortens words to a width.
func cut(words string, wide, size float64) string {
	if textWidth(words, size) <= wide {
		return words
	}
	r := []rune(words)
	for len(r) > 1 && textWidth(string(r)+"…", size) > wide {
		r = r[:len(r)-1]
	}
	return strings.TrimRight(string(r), " ") + "…"
}
