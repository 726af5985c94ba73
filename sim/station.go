package sim

import (
	"fmt"
	"math"
	"math/rand/v2"
	"time"
)

// Station is a weather station in an invented place, which tells what it expects of a day: warm summers, frost into
// May, rain on one day in three. The same seed tells the same of the same day.
type Station struct {
	Seed  uint64
	South bool // its summer is in January
}

// nights are how many are told of in one line.
const nights = 14

// Answer does what it is told: ID; DAY with a date, which tells the lowest and the highest temperature in °C and the
// rain in mm; NIGHTS with a date, which tells the lowest of that day and the thirteen after it.
func (s *Station) Answer(words []string) (string, bool) {
	switch {
	case len(words) == 1 && words[0] == "ID":
		return "ID STATION STAND-IN 1", true
	case len(words) == 2 && words[0] == "DAY":
		day, err := time.Parse(time.DateOnly, words[1])
		if err != nil {
			return "E 3", true
		}
		low, high, rain := s.day(day)
		return fmt.Sprintf("D %s %.1f %.1f %.1f", words[1], low, high, rain), true
	case len(words) == 2 && words[0] == "NIGHTS":
		day, err := time.Parse(time.DateOnly, words[1])
		if err != nil {
			return "E 3", true
		}
		text := "N " + words[1]
		for n := range nights {
			low, _, _ := s.day(day.AddDate(0, 0, n))
			text += fmt.Sprintf(" %.1f", low)
		}
		return text, true
	}
	return "E 3", true
}

// day invents a day's weather: a year's wave, some days of one kind in a row, and chance.
func (s *Station) day(day time.Time) (low, high, rain float64) {
	n := day.Unix() / 86400
	turn := 2 * math.Pi * float64(day.YearDay()-201) / 365.25
	if s.South {
		turn += math.Pi
	}
	spell := rand.New(rand.NewPCG(s.Seed, uint64(n/3))) // three days are of a kind
	r := rand.New(rand.NewPCG(s.Seed+1, uint64(n)))
	mean := 10 + 9*math.Cos(turn) + 3*spell.NormFloat64() + r.NormFloat64()
	wide := 5 + 3*r.Float64()
	if spell.Float64() < 0.35 {
		rain = math.Round(10*r.ExpFloat64()*4) / 10
		wide -= 2
	}
	round := func(v float64) float64 { return math.Round(10*v) / 10 }
	return round(mean - wide), round(mean + wide), rain
}
