package schedule

import (
	"fmt"
	"math"
	"strings"

	"chamfer/core/work"
)

// Facts are how long a step takes one person, and what it wants besides: hands, weather.
func Facts(s work.Step) (lasts, also string) {
	low, high := s.Minutes()
	var list []string
	if s.Hands > 1 {
		list = append(list, fmt.Sprintf("%d people", s.Hands))
	}
	for _, w := range s.Weather {
		list = append(list, map[work.Weather]string{work.NoFrost: "no frost then and for two nights",
			work.NoRain: "a dry day"}[w])
	}
	return fmt.Sprintf("%s to %s for one", Lasts(Tidy(low)), Lasts(Tidy(high))), strings.Join(list, "; ")
}

// Tidy is so many minutes, in fives.
func Tidy(minutes float64) int { return int(math.Ceil(minutes/5)) * 5 }
