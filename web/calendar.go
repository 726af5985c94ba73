package web

import (
	"bytes"
	"context"
	"fmt"
	"html/template"
	"math"
	"net/http"
	"slices"
	"strings"
	"time"

	"github.com/gin-gonic/gin"

	"chamfer/core/design"
	"chamfer/core/measure"
	"chamfer/core/schedule"
	"chamfer/draw"
	"chamfer/export"
	"chamfer/instrument"
	"chamfer/store"
)

// calendarStage is who works when, and when it is done.
var calendarStage = stage{Key: "calendar", Name: "Calendar", About: "Who works when, and when it is done",
	Shows: "calendar:", Body: func(ctx context.Context, s *Server, b *benchPage, no refused) (any, error) {
		done, _, err := s.doneOf(ctx, b.ID, b.Plan)
		if err != nil {
			return nil, err
		}
		return b.calendar(done, s.reads.Station != "", no), nil
	}}

// calendarBody is the page of it.
type calendarBody struct {
	Fields, Week []fieldView
	Forecast     fieldView
	Station      bool
	Error        string // why there is no schedule
	Wide, Thin   template.HTML
	Tells        []string
	Days         []dayView
	Next         []workView // what can be done now, in any order
	Done, All    int
	Dated        bool
	Name         string
}

// dayView is one day's list.
type dayView struct {
	Name string
	List []workView
}

// workView is a step in a day, or one that can be begun.
type workView struct {
	Number                   int
	Title, Link, From, Lasts string
	Also                     string // hands, weather, that it goes on
}

// calendar is what the page tells.
func (b *benchPage) calendar(done map[string]bool, station bool, no refused) calendarBody {
	c := b.Plan.Design.CalendarOr()
	body := calendarBody{Station: station, All: len(b.Plan.Steps), Done: len(done), Name: b.Plan.Design.Name}
	body.Fields = b.calendarFields(c, len(done) > 0, no)
	for i, name := range []string{"Monday", "Tuesday", "Wednesday", "Thursday", "Friday", "Saturday", "Sunday"} {
		key := design.Weekdays[i]
		f := fieldView{ID: "calendar-" + key, Key: "calendar:" + key, Label: name, Kind: design.TextField, Text: c.Hours[key]}
		no.fill(&f)
		body.Week = append(body.Week, f)
	}
	body.Forecast = fieldView{ID: "calendar-forecast", Key: "calendar:forecast", Text: design.ForecastText(c.Forecast)}
	no.fill(&body.Forecast)
	body.Next = b.canBegin(done)
	k, err := b.Plan.Schedule(done)
	if err != nil {
		body.Error = sentence(err.Error())
		return body
	}
	body.Dated = k.Dated
	if len(k.Jobs) == 0 {
		body.Tells = []string{"All is done."}
		return body
	}
	pick := strings.ReplaceAll(b.Link("stage", "build", "step", "WHICH"), "%", "%%") + "#step"
	pick = strings.Replace(pick, "WHICH", "%s", 1)
	body.Wide = template.HTML(draw.Calendar(b.Plan, k, draw.Sheet{W: 860, Font: 15, Pick: pick}))
	body.Thin = template.HTML(draw.Calendar(b.Plan, k, draw.Sheet{W: 356, Font: 13, Pick: pick}))
	body.Tells = b.tells(k)
	body.Days = b.dayList(k)
	return body
}

// calendarFields are the decisions but the hours and the weather.
func (b *benchPage) calendarFields(c design.Calendar, begun bool, no refused) []fieldView {
	pace := fieldView{ID: "calendar-pace", Key: "calendar:pace", Label: "They are", Kind: design.ChoiceField, Text: c.Pace}
	for _, p := range design.Paces {
		pace.Choices = append(pace.Choices, &choiceView{Choice: p, Checked: p.Value == c.Pace})
	}
	list := []fieldView{
		{ID: "calendar-start", Key: "calendar:start", Label: "The first day", Kind: design.TextField, Text: c.Start,
			Help: "Write 2027-04-03. Empty, the days are only counted, from a Saturday."},
		{ID: "calendar-people", Key: "calendar:people", Label: "People", Kind: design.NumberField,
			Text: fmt.Sprint(c.People)},
		pace,
		{ID: "calendar-away", Key: "calendar:away", Label: "Days away", Kind: design.TextField, Text: c.AwayText(),
			Help: "2027-04-10, 2027-05-01 to 2027-05-03"},
		{ID: "calendar-brought", Key: "calendar:brought", Label: "Lorries come on", Kind: design.TextField,
			Text: strings.Join(c.Brought, ", "), Help: "mon, thu; empty, whenever somebody works"},
		{ID: "calendar-zone", Key: "calendar:zone", Label: "Time zone", Kind: design.TextField, Text: c.Zone,
			Help: "For other calendars: Europe/Lisbon. Empty is wherever they are read."}}
	if begun {
		list = slices.Insert(list, 1, fieldView{ID: "calendar-resume", Key: "calendar:resume",
			Label: "What is left goes on", Kind: design.TextField, Text: c.Resume,
			Help: "The day on which what is not ticked yet is begun; empty, as planned."})
	}
	for i := range list {
		no.fill(&list[i])
	}
	return list
}

// tells says in sentences when it is done, and how sure that is.
func (b *benchPage) tells(k schedule.Plan) []string {
	day := func(n int) string {
		if k.Dated {
			return k.Start.AddDate(0, 0, n).Format("Monday, 2 January 2006")
		}
		return fmt.Sprintf("day %d", n+1)
	}
	list := []string{fmt.Sprintf("It is done on %s.", day(k.End.Day()))}
	if k.Long[0] != k.Long[1] {
		list = append(list, fmt.Sprintf("One time in ten by %s, nine times in ten by %s: every step and every wait takes"+
			" sometimes less, sometimes more.", day(k.Long[0]-1), day(k.Long[1]-1)))
	}
	switch {
	case k.End == k.Least:
		list = append(list, "Nothing is sooner: what has to come one after the other, with its waiting, takes that long.")
	case k.Proved:
		list = append(list, "No other order of these steps ends sooner.")
	default:
		list = append(list, fmt.Sprintf("Of the orders that were tried this ends soonest; with a hand for everything at once"+
			" it could be %s.", day(k.Least.Day())))
	}
	if k.Help > 0 {
		list = append(list, fmt.Sprintf("Some steps want %s more for a while: they are told below.",
			measure.Count(k.Help, "person")))
	}
	return append(list, fmt.Sprintf("About %s of work for one person in all, by rates that are common practice.",
		measure.Count(int(math.Round(float64(k.Minutes())/60)), "hour")))
}

// dayList is each day's work, from morning to evening.
func (b *benchPage) dayList(k schedule.Plan) []dayView {
	var days []dayView
	last := -1
	for _, x := range k.Stretches() {
		if day := x.From.Day(); day != last {
			name := fmt.Sprintf("Day %d", day+1)
			if k.Dated {
				name = k.Date(x.From).Format("Monday, 2 January")
			}
			days = append(days, dayView{Name: name})
			last = day
		}
		j := k.Jobs[x.Job]
		v := b.workOf(j.Step)
		v.From, v.Lasts = x.From.Clock(), schedule.Lasts(int(x.To-x.From))
		if x.Nth > 0 {
			v.Also = joined(v.Also, "goes on")
		}
		if j.Of > 1 {
			v.Title += fmt.Sprintf(", %d of %d", j.Go, j.Of)
		}
		if k.Slack[x.Job] == 0 {
			v.Also = joined(v.Also, "nothing may slip here")
		}
		days[len(days)-1].List = append(days[len(days)-1].List, v)
	}
	return days
}

// workOf is a step as lists have it.
func (b *benchPage) workOf(step int) workView {
	st := b.Plan.Steps[step]
	lasts, also := schedule.Facts(st)
	return workView{Number: step + 1, Title: st.Title, Link: b.Link("stage", "build", "step", st.ID) + "#step",
		Lasts: lasts, Also: also}
}

func joined(a, b string) string {
	if a == "" || b == "" {
		return a + b
	}
	return a + "; " + b
}

// canBegin are the steps that are not done and wait for nothing that is not.
func (b *benchPage) canBegin(done map[string]bool) []workView {
	var list []workView
	for i, s := range b.Plan.Steps {
		if done[s.ID] || s.Waits(done) {
			continue
		}
		v := b.workOf(i)
		for _, x := range s.After {
			if x.Wait.High > 0 {
				v.Also = joined(v.Also, fmt.Sprintf("once %s: %s", x.Wait.What, x.Wait.Words()))
			}
		}
		list = append(list, v)
	}
	return list
}

// calendarFile hands the steps out as a calendar. Who takes it in again has what is new in the place of what was, and
// what has gone called off: its number and its time are those of the last edit.
func (s *Server) calendarFile(c *gin.Context) {
	p, pl, ok := s.planned(c)
	if !ok {
		return
	}
	done, _, err := s.doneOf(c.Request.Context(), p.ID, pl)
	if err != nil {
		s.trouble(c, err)
		return
	}
	issue := export.Issue{Of: fmt.Sprintf("p%d", p.ID), Sequence: int(p.Head), Done: done}
	if issue.At, err = time.Parse(time.RFC3339Nano, p.Updated); err != nil {
		issue.At = time.Date(2000, 1, 1, 0, 0, 0, 0, time.UTC)
	}
	now, _, err := export.Events(pl, issue.Of, done)
	if err != nil {
		s.fault(c, http.StatusUnprocessableEntity, "There is no calendar of it yet.", sentence(err.Error()))
		return
	}
	issue.Season = export.Season(pl, issue.Of, time.Now().Year())
	now = append(now, issue.Season...)
	before, err := s.store.Events(c.Request.Context(), p.ID)
	if err != nil {
		s.trouble(c, err)
		return
	}
	var was []export.Event
	for _, e := range before {
		from, err := time.Parse(time.DateTime, e.Begins)
		to, err2 := time.Parse(time.DateTime, e.Ends)
		if err == nil && err2 == nil {
			was = append(was, export.Event{UID: e.UID, Title: e.Title, From: from, To: to})
		}
	}
	issue.Gone = export.Gone(was, now)
	var out []store.Event
	for _, e := range now {
		out = append(out, store.Event{UID: e.UID, Title: e.Title, Begins: e.From.Format(time.DateTime),
			Ends: e.To.Format(time.DateTime)})
	}
	var raw bytes.Buffer
	if err := export.WriteCalendar(&raw, pl, issue); err != nil {
		s.trouble(c, err)
		return
	}
	if err := s.store.HandOut(p.ID, out); err != nil {
		s.trouble(c, err)
		return
	}
	attach(c, slug(p.Design.Name)+"-calendar.ics", "text/calendar; charset=utf-8", raw.Bytes())
}

// forecastDays are how many a station is asked for.
const forecastDays = 21

// station reads the weather station, from the first day on or from where the work goes on.
func (s *Server) station(c *gin.Context, p store.Project, tell func(notice string, err error)) {
	k := p.Design.CalendarOr()
	begin := cmpOr(k.Resume, k.Start)
	from, err := design.ReadDay(begin)
	switch {
	case s.reads.Station == "":
		tell("", fmt.Errorf("no weather station is plugged in: start Chamfer with --station and its address, or type what"+
			" is expected"))
		return
	case begin == "" || err != nil:
		tell("", fmt.Errorf("decide the first day before the station is asked for its weather"))
		return
	}
	ctx, cancel := context.WithTimeout(c.Request.Context(), readTime)
	defer cancel()
	days, err := instrument.Forecast(ctx, s.reads.Station, from, forecastDays)
	if err != nil {
		tell("the station was not read: ", err)
		return
	}
	var list []design.Weather
	for _, d := range days {
		list = append(list, design.Weather(d))
	}
	c.Request.PostForm.Set("calendar:forecast", design.ForecastText(list))
	c.Request.PostForm.Set("was:calendar:forecast", "\x00")
	s.edit(c)
}
