package cost

import (
	"testing"

	"chamfer/core/money"
)

// Capital recovery factors as interest tables of engineering economy print them, to four places (from memory):
// (A/P, 10 %, 5) = 0.2638, (A/P, 8 %, 10) = 0.1490, (A/P, 5 %, 20) = 0.0802, (A/P, 3 %, 15) = 0.0838,
// (A/P, 12 %, 1) = 1.1200. The worked example is the common one of such a book: 10,000 now at 10 % over 5 years is
// 2,638 a year.
func TestRecovery(t *testing.T) {
	for _, c := range []struct {
		rate  float64
		years int
		want  money.Amount // of 1,000,000 cents
	}{{0.10, 5, 263_800}, {0.08, 10, 149_000}, {0.05, 20, 80_200}, {0.03, 15, 83_800}, {0.12, 1, 1_120_000},
		{0, 8, 125_000}, {0.07, 0, 1_000_000}} {
		got := Recovery(1_000_000, c.rate, c.years)
		if (got+50)/100 != c.want/100 {
			t.Errorf("at %g over %d years %d, the table says %d", c.rate, c.years, got, c.want)
		}
	}
	// What is paid pays it off: the rest after the last year is nothing, to a cent a year.
	owed := money.Amount(394_39)
	pays := Recovery(owed, 0.03, 12)
	for range 12 {
		owed += owed.Rate(300) - pays
	}
	if owed < -12 || owed > 12 {
		t.Errorf("%d are left after the last year", owed)
	}
}
