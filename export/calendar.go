package export

import (
	"fmt"
	"io"
	"strings"
	"time"

	"chamfer/core/plan"
	"chamfer/core/schedule"
)

// Event is one stretch of work as a calendar has it. Its UID stays the same under edits that do not touch its step.
type Event struct {
	UID, Title string
	From, To   time.Time // on the clock of the place
	Why        string    // of what grows; "" for a step, whose words are its own
}

// Issue is which writing of a calendar one is: a later one takes the place of an earlier.
type Issue struct {
	Of       string    // what its UIDs end with
	Sequence int       // grows with every edit
	At       time.Time // of the edit
	Gone     []Event   // that an earlier issue had and this one has not: they are called off
	Done     map[string]bool
	Season   []Event // the year's work for what grows, which goes with it
}

// Events are the stretches of work of a plan whose first day is decided, in order; none where it is not.
func Events(p *plan.Plan, of string, done map[string]bool) ([]Event, schedule.Plan, error) {
	k, err := p.Schedule(done)
	if err != nil || !k.Dated {
		return nil, k, err
	}
	at := func(m schedule.Moment) time.Time { return k.Start.Add(time.Duration(m) * time.Minute) }
	var list []Event
	for i, d := range k.Done {
		j := k.Jobs[i]
		s := p.Steps[j.Step]
		title := p.Say(s.Title)
		if j.Of > 1 {
			title += fmt.Sprintf(", %d of %d", j.Go, j.Of)
		}
		for n, span := range d.Spans {
			uid := fmt.Sprintf("%s-%d-%d-%s@chamfer", s.ID, j.Go, n+1, of)
			list = append(list, Event{uid, title, at(span.From), at(span.To), ""})
		}
	}
	return list, k, nil
}

// WriteCalendar writes the steps as a calendar (RFC 5545): an event for each stretch of work, by the clock of the
// place. Where no first day is decided, they are a list of things to do, in their order.
func WriteCalendar(w io.Writer, p *plan.Plan, issue Issue) error {
	list, k, err := Events(p, issue.Of, issue.Done)
	if err != nil {
		return err
	}
	c := openICS("calendar")
	stamp := func(uid string) {
		c.line("UID:%s", uid)
		c.line("DTSTAMP:%s", issue.At.UTC().Format(icsUTC))
		c.line("SEQUENCE:%d", issue.Sequence)
	}
	c.season(issue.Season, stamp)
	if !k.Dated {
		for i, s := range p.Steps {
			c.line("BEGIN:VTODO")
			stamp(fmt.Sprintf("%s-todo-%s@chamfer", s.ID, issue.Of))
			c.line("SUMMARY:%d. %s", i+1, icsText.Replace(p.Say(s.Title)))
			if issue.Done[s.ID] {
				c.line("STATUS:COMPLETED")
			}
			c.line("END:VTODO")
		}
		return c.close(w)
	}
	zone := p.Design.CalendarOr().Zone
	when := ""
	if years := append(list, issue.Gone...); len(years) > 0 {
		from, to := years[0].From.Year(), years[0].To.Year()
		for _, e := range years {
			from, to = min(from, e.From.Year()), max(to, e.To.Year())
		}
		if c.zone(zone, from, to) {
			when = ";TZID=" + zone
		}
	}
	event := func(e Event) {
		stamp(e.UID)
		c.line("DTSTART%s:%s", when, e.From.Format(icsLocal))
		c.line("DTEND%s:%s", when, e.To.Format(icsLocal))
		c.line("SUMMARY:%s", icsText.Replace(e.Title))
	}
	n := 0
	for i, d := range k.Done {
		s := p.Steps[k.Jobs[i].Step]
		words := append(saidAll(p, s.Do), "Have at hand: "+strings.Join(saidAll(p, s.Have), ", ")+".")
		for _, x := range s.Cautions {
			words = append(words, p.Say(x.Text))
		}
		for range d.Spans {
			c.line("BEGIN:VEVENT")
			event(list[n])
			c.line("DESCRIPTION:%s", icsText.Replace(strings.Join(words, "\n")))
			c.line("END:VEVENT")
			n++
		}
	}
	for _, e := range issue.Gone {
		c.line("BEGIN:VEVENT")
		event(e)
		c.line("STATUS:CANCELLED")
		c.line("END:VEVENT")
	}
	return c.close(w)
}

// writeCalendar writes it as a file that is the first of its kind.
func writeCalendar(w io.Writer, p *plan.Plan) error {
	at := time.Date(2000, 1, 1, 0, 0, 0, 0, time.UTC)
	return WriteCalendar(w, p, Issue{Of: "file", At: at})
}

// Gone are the events of before that are not among those of now.
func Gone(before, now []Event) (gone []Event) {
	there := map[string]bool{}
	for _, e := range now {
		there[e.UID] = true
	}
	for _, e := range before {
		if !there[e.UID] {
			gone = append(gone, e)
		}
	}
	return gone
}
