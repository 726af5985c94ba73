package design

import (
	"cmp"
	"encoding/csv"
	"fmt"
	"slices"
	"strconv"
	"strings"
	"time"

	_ "time/tzdata" // zones are the same on every machine

	"chamfer/core/catalog"
	"chamfer/core/measure"
)

// Calendar is who works when.
type Calendar struct {
	Start    string            `json:"start,omitempty"`    // "2027-04-03"; "" is not decided
	Resume   string            `json:"resume,omitempty"`   // the day on which what is not done yet goes on
	Zone     string            `json:"zone,omitempty"`     // "Europe/Lisbon"; "" is wherever it is read
	People   int               `json:"people"`             // who work
	Pace     string            `json:"pace"`               // "quick", "usual" or "careful"
	Times    int               `json:"times,omitempty"`    // thousandths of those times, as was learnt; 0 is 1000
	Hours    map[string]string `json:"hours"`              // by weekday, "sat": "9-12, 13-17"
	Away     []string          `json:"away,omitempty"`     // days off: "2027-04-10"
	Brought  []string          `json:"brought,omitempty"`  // weekdays on which lorries come; none is any
	Forecast []Weather         `json:"forecast,omitempty"` // by day
}

// Weather is what one day is like.
type Weather struct {
	Day  string  `json:"day"`  // "2027-04-03"
	Low  float64 `json:"low"`  // °C
	High float64 `json:"high"` // °C
	Rain float64 `json:"rain"` // mm
}

// Paces are how used to the work people are.
var Paces = []Choice{
	{"quick", "used to it", "near the shorter times"},
	{"usual", "as most", "between the shorter and the longer times"},
	{"careful", "for the first time", "near the longer times"}}

// Weekdays in the order a week is written, as calendars of the week have them.
var Weekdays = []string{"mon", "tue", "wed", "thu", "fri", "sat", "sun"}

// Limits of a calendar.
const (
	mostPeople   = 12
	mostAway     = 400
	mostForecast = 400
	leastTimes   = 250
	mostTimes    = 4000
)

// CalendarOr is who works when, or what is usual: one, at weekends.
func (d *Design) CalendarOr() Calendar {
	if d.Calendar != nil {
		return *d.Calendar
	}
	return Calendar{People: 1, Pace: "usual", Hours: map[string]string{"sat": "9-12, 13-17", "sun": "13-17"}}
}

// Between is how far between the shorter and the longer times people are.
func (c Calendar) Between() float64 {
	switch c.Pace {
	case "quick":
		return 0.2
	case "careful":
		return 0.8
	}
	return 0.5
}

// Factor is how many times as long as the published times theirs are.
func (c Calendar) Factor() float64 {
	if c.Times == 0 {
		return 1
	}
	return float64(c.Times) / 1000
}

// ReadDay reads a day, "2027-04-03".
func ReadDay(text string) (time.Time, error) {
	t, err := time.Parse(time.DateOnly, strings.TrimSpace(text))
	if err != nil || t.Year() < 1950 || t.Year() > 2100 {
		return t, fmt.Errorf("%q is no day: write year, month and day, like 2027-04-03", text)
	}
	return t, nil
}

// Shift is a stretch of a day in minutes after midnight.
type Shift struct{ From, To int }

// ReadHours reads the hours of a day, "9-12, 13:30-17"; none for "" or "-". They come back in order.
func ReadHours(text string) ([]Shift, error) {
	fault := fmt.Errorf("%q are no hours: write from when to when, like 9-12, 13:30-17, or - for none", text)
	text = strings.TrimSpace(text)
	if text == "" || text == "-" {
		return nil, nil
	}
	var list []Shift
	for _, part := range strings.Split(text, ",") {
		a, b, ok := strings.Cut(strings.ReplaceAll(part, "–", "-"), "-")
		from, err := clock(a)
		to, err2 := clock(b)
		if !ok || err != nil || err2 != nil || to <= from {
			return nil, fault
		}
		list = append(list, Shift{from, to})
	}
	slices.SortFunc(list, func(a, b Shift) int { return a.From - b.From })
	for i := 1; i < len(list); i++ {
		if list[i].From < list[i-1].To {
			return nil, fmt.Errorf("%q: two of its stretches lie over one another", text)
		}
	}
	return list, nil
}

// clock reads a time of day, "9" or "13:30", as minutes after midnight.
func clock(text string) (int, error) {
	h, m, more := strings.Cut(strings.TrimSpace(text), ":")
	hours, err := strconv.Atoi(h)
	minutes := 0
	if err == nil && more {
		minutes, err = strconv.Atoi(m)
	}
	if err != nil || hours < 0 || minutes < 0 || minutes > 59 || hours*60+minutes > 24*60 || len(h) > 2 {
		return 0, fmt.Errorf("%q is no time of day", text)
	}
	return hours*60 + minutes, nil
}

// readAway reads days off, "2027-04-10, 2027-05-01 to 2027-05-03".
func readAway(text string) ([]string, error) {
	var list []string
	for _, part := range strings.FieldsFunc(text, func(r rune) bool { return r == ',' || r == ';' || r == '\n' }) {
		if strings.TrimSpace(part) == "" {
			continue
		}
		a, b, ranged := strings.Cut(part, " to ")
		from, err := ReadDay(a)
		if err != nil {
			return nil, err
		}
		to := from
		if ranged {
			if to, err = ReadDay(b); err != nil {
				return nil, err
			}
		}
		if to.Before(from) || to.Sub(from) > mostAway*24*time.Hour {
			return nil, fmt.Errorf("%q: the second day is the later, and within %d days", strings.TrimSpace(part), mostAway)
		}
		for ; !to.Before(from); from = from.AddDate(0, 0, 1) {
			if day := from.Format(time.DateOnly); !slices.Contains(list, day) {
				list = append(list, day)
			}
		}
	}
	slices.Sort(list)
	return list, nil
}

// AwayText writes days off as they are typed, runs of them as one.
func (c Calendar) AwayText() string {
	var list []string
	for i := 0; i < len(c.Away); {
		n := i
		for n+1 < len(c.Away) && next(c.Away[n]) == c.Away[n+1] {
			n++
		}
		if n == i {
			list = append(list, c.Away[i])
		} else {
			list = append(list, c.Away[i]+" to "+c.Away[n])
		}
		i = n + 1
	}
	return strings.Join(list, ", ")
}

func next(day string) string {
	t, err := ReadDay(day)
	if err != nil {
		return ""
	}
	return t.AddDate(0, 0, 1).Format(time.DateOnly)
}

// forecastHead is the head of a forecast's table, in °C and mm or in °F and inches.
const forecastHead, forecastHeadUS = "day,low_c,high_c,rain_mm", "day,low_f,high_f,rain_in"

// ReadForecast reads a forecast as a table of CSV (docs/format.md): a line a day, with or without its head; without, in
// the units of the system. Faults name their line.
func ReadForecast(text string, sys measure.System) ([]Weather, error) {
	r := csv.NewReader(strings.NewReader(strings.TrimSpace(text)))
	r.FieldsPerRecord, r.TrimLeadingSpace = 4, true
	rows, err := r.ReadAll()
	if err != nil {
		return nil, fmt.Errorf("the forecast is no table of four columns: %s: %w", forecastHead, err)
	}
	us := sys == measure.Imperial
	var list []Weather
	for i, row := range rows {
		if head := strings.Join(row, ","); i == 0 && (head == forecastHead || head == forecastHeadUS) {
			us = head == forecastHeadUS
			continue
		}
		day, err := ReadDay(row[0])
		if err != nil {
			return nil, fmt.Errorf("line %d: %w", i+1, err)
		}
		var v [3]float64
		for k := range v {
			if v[k], err = strconv.ParseFloat(strings.TrimSpace(row[k+1]), 64); err != nil {
				return nil, fmt.Errorf("line %d, column %d: %q is no number", i+1, k+2, row[k+1])
			}
		}
		w := Weather{Day: day.Format(time.DateOnly), Low: v[0], High: v[1], Rain: v[2]}
		if us {
			w.Low, w.High, w.Rain = (v[0]-32)/1.8, (v[1]-32)/1.8, v[2]*25.4
		}
		if !(w.Low >= -60 && w.High <= 60 && w.Low <= w.High && w.Rain >= 0 && w.Rain <= 2000) {
			return nil, fmt.Errorf("line %d: no day is like that: the low before the high, from -60 to 60 °C, and no rain is 0",
				i+1)
		}
		if slices.ContainsFunc(list, func(o Weather) bool { return o.Day == w.Day }) {
			return nil, fmt.Errorf("line %d: %s is there twice", i+1, w.Day)
		}
		list = append(list, w)
	}
	slices.SortFunc(list, func(a, b Weather) int { return cmp.Compare(a.Day, b.Day) })
	return list, nil
}

// ForecastText writes a forecast as it is read, in °C and mm.
func ForecastText(list []Weather) string {
	if len(list) == 0 {
		return ""
	}
	b := strings.Builder{}
	b.WriteString(forecastHead + "\n")
	num := func(v float64) string { return strconv.FormatFloat(v, 'f', -1, 64) }
	for _, w := range list {
		fmt.Fprintf(&b, "%s,%s,%s,%s\n", w.Day, num(w.Low), num(w.High), num(w.Rain))
	}
	return b.String()
}

// setCalendar changes one thing about who works when.
func (d *Design) setCalendar(key, value string, cat *catalog.Catalog) error {
	c := d.CalendarOr()
	hours := map[string]string{}
	for k, v := range c.Hours {
		hours[k] = v
	}
	c.Hours, c.Away, c.Brought = hours, slices.Clone(c.Away), slices.Clone(c.Brought)
	value = strings.TrimSpace(value)
	var err error
	switch key {
	case "start":
		if c.Start = value; value != "" {
			_, err = ReadDay(value)
		}
	case "resume":
		if c.Resume = value; value != "" {
			_, err = ReadDay(value)
		}
	case "zone":
		c.Zone = value
	case "people":
		if c.People, err = strconv.Atoi(value); err != nil {
			err = fmt.Errorf("%q is no number of people: 1 to %d work", value, mostPeople)
		}
	case "pace":
		c.Pace = value
	case "times":
		if c.Times, err = strconv.Atoi(value); err != nil {
			err = fmt.Errorf("%q is no number of thousandths: %d to %d work, and 0 for the published times", value, leastTimes,
				mostTimes)
		}
	case "away":
		c.Away, err = readAway(value)
	case "brought":
		c.Brought, err = readWeekdays(value)
	case "forecast":
		c.Forecast, err = ReadForecast(value, cat.System)
	default:
		if !slices.Contains(Weekdays, key) {
			return fmt.Errorf("the calendar has no %q", key)
		}
		if _, err = ReadHours(value); err == nil {
			hours[key] = value
			if value == "" || value == "-" {
				delete(hours, key)
			}
		}
	}
	if err != nil {
		return err
	}
	d.Calendar = &c
	return nil
}

// readWeekdays reads "mon, thu"; "any" and "" are all of them.
func readWeekdays(text string) ([]string, error) {
	var list []string
	for _, w := range strings.FieldsFunc(strings.ToLower(text), func(r rune) bool { return r == ',' || r == ' ' }) {
		if w == "any" {
			return nil, nil
		}
		if len(w) > 3 {
			w = w[:3]
		}
		if !slices.Contains(Weekdays, w) {
			return nil, fmt.Errorf("%q is no day of the week: write mon, tue, wed, thu, fri, sat or sun", w)
		}
		if !slices.Contains(list, w) {
			list = append(list, w)
		}
	}
	slices.SortFunc(list, func(a, b string) int { return slices.Index(Weekdays, a) - slices.Index(Weekdays, b) })
	return list, nil
}

// calendar refuses what no year has.
func (c *checker) calendar(d Design) {
	if d.Calendar == nil {
		return
	}
	k := *d.Calendar
	refuse := func(key, format string, args ...any) { c.refuse("", "calendar:"+key, format, args...) }
	if k.Start != "" {
		if _, err := ReadDay(k.Start); err != nil {
			refuse("start", "%v", err)
		}
	}
	if k.Resume != "" {
		if _, err := ReadDay(k.Resume); err != nil {
			refuse("resume", "%v", err)
		}
	}
	if k.Zone != "" {
		if _, err := time.LoadLocation(k.Zone); err != nil || k.Zone == "Local" {
			refuse("zone", "%q is no time zone: write a place of one, like Europe/Lisbon or America/Denver", k.Zone)
		}
	}
	if k.People < 1 || k.People > mostPeople {
		refuse("people", "%d people: 1 to %d work", k.People, mostPeople)
	}
	if !slices.ContainsFunc(Paces, func(p Choice) bool { return p.Value == k.Pace }) {
		refuse("pace", "%q is not on offer; there is %s", k.Pace, values(Paces))
	}
	if k.Times != 0 && (k.Times < leastTimes || k.Times > mostTimes) {
		refuse("times", "%d thousandths: %d to %d work, and 0 for the published times", k.Times, leastTimes, mostTimes)
	}
	total := 0
	for _, day := range Weekdays {
		list, err := ReadHours(k.Hours[day])
		if err != nil {
			refuse(day, "%v", err)
		}
		for _, s := range list {
			total += s.To - s.From
		}
	}
	if total < 30 {
		refuse("sat", "no time is left in the week: half an hour at least works")
	}
	for day := range k.Hours {
		if !slices.Contains(Weekdays, day) {
			refuse("sat", "hours are given by weekday, mon to sun")
			break
		}
	}
	for _, day := range k.Away {
		if _, err := ReadDay(day); err != nil || len(k.Away) > mostAway {
			refuse("away", "%d days away, of which not all can be read: up to %d, like 2027-04-03", len(k.Away), mostAway)
			break
		}
	}
	for _, day := range k.Brought {
		if !slices.Contains(Weekdays, day) {
			refuse("brought", "%q is no day of the week", day)
			break
		}
	}
	if len(k.Forecast) > mostForecast {
		refuse("forecast", "%d days: up to %d work", len(k.Forecast), mostForecast)
	}
	if _, err := ReadForecast(ForecastText(k.Forecast), measure.Metric); err != nil {
		refuse("forecast", "%v", err)
	}
}
