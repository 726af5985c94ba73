// Package words says a text as people say it where it is read. The texts of this program
// are written in British English, with sizes of the trade in both systems, such as "every
// 6 in (150 mm)"; [Speech.Say] puts the words of a region for them, and of two sizes keeps
// its own. The table of words is here and nowhere else.
package words

import (
	"regexp"
	"strings"
	"time"
	"unicode"
)

// Speech is how texts are said.
type Speech struct {
	American bool
	Imperial bool
	Both     bool // sizes stay in both systems, where a page is of no one region
}

// Lang is its tag (BCP 47).
func (s Speech) Lang() string {
	if s.American {
		return "en-US"
	}
	return "en-GB"
}

// Moment writes a moment in local time.
func (s Speech) Moment(t time.Time) string {
	if s.American {
		return t.Local().Format("January 2, 2006, 3:04 PM")
	}
	return t.Local().Format("2 January 2006, 15:04")
}

// Day writes a day of a year.
func (s Speech) Day(t time.Time) string {
	if s.American {
		return t.Format("January 2")
	}
	return t.Format("2 January")
}

// american are words that the United States say otherwise, as they are written here.
var american = map[string]string{
	"aluminium": "aluminum", "allotment": "community garden", "allotments": "community gardens",
	"barrow": "wheelbarrow", "barrows": "wheelbarrows", "car": "truck", "cars": "trucks",
	"centimetre": "centimeter", "centimetres": "centimeters", "centre": "center", "centres": "centers",
	"colour": "color", "colours": "colors", "coloured": "colored", "favour": "favor", "fibre": "fiber",
	"fleece": "frost cloth", "galvanised": "galvanized", "galvanising": "galvanizing",
	"grey": "gray", "hire": "rental", "hired": "rented", "kerb": "curb", "kilometres": "kilometers",
	"labelled": "labeled", "levelled": "leveled", "levelling": "leveling",
	"litre": "liter", "litres": "liters", "lorry": "truck", "lorries": "trucks",
	"metre": "meter", "metres": "meters", "millimetre": "millimeter", "millimetres": "millimeters",
	"mitre": "miter", "mitred": "mitered", "mitres": "miters", "mitring": "mitering",
	"mould": "mold", "moulds": "molds", "nanometre": "nanometer", "nanometres": "nanometers",
	"neighbour": "neighbor", "neighbours": "neighbors", "neighbouring": "neighboring",
	"odour": "odor", "plough": "plow", "programme": "program", "railway": "railroad",
	"recognise": "recognize", "recognised": "recognized", "sleeper": "landscape timber",
	"sleepers": "landscape timbers",
	"storey":   "story", "timber": "lumber", "timbers": "lumber", "turf": "sod", "turfs": "sods",
	"tyre": "tire", "tyres": "tires", "vapour": "vapor",
}

// phrases come before words; of two the longer.
var phrases = map[string]string{
	"paving slab": "paver", "paving slabs": "pavers",
	"railway sleeper": "railroad tie", "railway sleepers": "railroad ties",
}

// Two sizes, of which one is meant: "12 to 16 in (300 to 400 mm)".
const (
	many     = `\d[\d,./]*(?: \d+/\d+)?(?: (?:to|by|or|and) \d[\d,./]*(?: \d+/\d+)?)?`
	inImp    = `(?:in|ft|lb/ft²|lb/ft³|lb|psi|pcf|gal|oz|cu ft|sq ft|cu yd|cubic feet|cubic foot)`
	inMetric = `(?:kg/m³|kg/m3|kN/m²|MPa|mm|cm|kN|kg|m²|m³|ml|m|N|l)`
)

var (
	imperialFirst = regexp.MustCompile(
		`((?:` + many + ` ` + inImp + `)|(?:\b[Aa]n?|[Ee]very|[Tt]he|[Oo]ne|[Hh]alf an?) (?:inch|foot|yard)) \((` +
			many + ` ` + inMetric + `)\)`,
	)
	metricFirst = regexp.MustCompile(`(` + many + ` ` + inMetric + `) \((` + many + ` ` + inImp + `)\)`)
	every       = regexp.MustCompile(`^[Ee]very `)
)

// Say says a text; what people wrote themselves, such as the names of beds, is left as it
// is.
func (s Speech) Say(text string, own ...string) string {
	for _, name := range own {
		if name == "" {
			continue
		}
		if before, after, ok := strings.Cut(text, name); ok && standsAlone(before, after) {
			return s.Say(before, own...) + name + s.Say(after, own...)
		}
	}
	if !s.Both && strings.Contains(text, "(") {
		text = s.measured(text)
	}
	if !s.American {
		return text
	}
	return said(text)
}

// standsAlone reports whether a name that was found is no part of a word.
func standsAlone(before, after string) bool {
	letter := func(r rune) bool { return unicode.IsLetter(r) || unicode.IsDigit(r) }
	return !(before != "" && letter([]rune(before)[len([]rune(before))-1])) &&
		!(after != "" && letter([]rune(after)[0]))
}

// measured keeps of two sizes the one that is meant.
func (s Speech) measured(text string) string {
	if s.Imperial {
		text = imperialFirst.ReplaceAllString(text, "$1")
		return metricFirst.ReplaceAllString(text, "$2")
	}
	text = imperialFirst.ReplaceAllStringFunc(text, func(m string) string {
		part := imperialFirst.FindStringSubmatch(m)
		if every.MatchString(part[1]) && !strings.ContainsAny(part[1], "0123456789") {
			return part[1][:len("every ")] + part[2]
		}
		return part[2]
	})
	return metricFirst.ReplaceAllString(text, "$1")
}

// said puts American words.
func said(text string) string {
	var out strings.Builder
	rest := text
	changed := false
	for rest != "" {
		n := strings.IndexFunc(rest, unicode.IsLetter)
		if n < 0 {
			break
		}
		out.WriteString(rest[:n])
		rest = rest[n:]
		end := strings.IndexFunc(rest, func(r rune) bool { return !unicode.IsLetter(r) })
		if end < 0 {
			end = len(rest)
		}
		word := rest[:end]
		if next, ok := american[strings.ToLower(word)]; ok || phraseful(word) {
			if from, to := phrase(rest); from > 0 {
				end, next, ok = from, to, true
			}
			if ok {
				word, changed = like(word, next), true
			}
		}
		out.WriteString(word)
		rest = rest[end:]
	}
	if !changed {
		return text
	}
	out.WriteString(rest)
	return out.String()
}

// phraseful reports whether a phrase begins with a word.
func phraseful(word string) bool {
	switch strings.ToLower(word) {
	case "paving", "railway":
		return true
	}
	return false
}

// phrase is the longest phrase that a text begins with, and what is said for it.
func phrase(text string) (length int, say string) {
	low := strings.ToLower(text)
	for p, to := range phrases {
		if len(p) > length && strings.HasPrefix(low, p) && standsAlone("", text[len(p):]) {
			length, say = len(p), to
		}
	}
	return length, say
}

// like gives a word the capital of another.
func like(model, word string) string {
	if r := []rune(model)[0]; unicode.IsUpper(r) {
		return strings.ToUpper(word[:1]) + word[1:]
	}
	return word
}
