package instrument

import (
	"context"
	"fmt"
	"slices"
	"strings"
)

// Program is what a tap timer is set to.
type Program struct {
	Start           string // "06:00"
	Minutes, Starts int
	Days            []string // "MO", "WE"
}

func (p Program) words() string {
	return fmt.Sprintf("%s %d %d %s", p.Start, p.Minutes, p.Starts, strings.Join(p.Days, ","))
}

// meet opens a line to an instrument of a kind.
func meet(ctx context.Context, addr, kind string) (*line, error) {
	l, err := dial(ctx, addr)
	if err != nil {
		return nil, err
	}
	id, err := l.ask(ctx, "ID", "ID")
	if err == nil && (len(id) == 0 || id[0] != kind) {
		err = fmt.Errorf("this is no %s but %q: plug in the %s", strings.ToLower(kind), id, strings.ToLower(kind))
	}
	if err != nil {
		_ = l.conn.Close()
		return nil, err
	}
	return l, nil
}

// SetTimer sets a tap timer, and reads back what it took: what it says it does is what was asked.
func SetTimer(ctx context.Context, addr string, p Program) error {
	l, err := meet(ctx, addr, "TIMER")
	if err != nil {
		return err
	}
	defer l.conn.Close()
	if _, err := l.ask(ctx, "OK", "SET "+p.words()); err != nil {
		return err
	}
	is, err := l.ask(ctx, "P", "PROG")
	if err != nil {
		return err
	}
	if strings.Join(is, " ") != p.words() {
		return fmt.Errorf("the timer says it is set to %q: set it by hand, or read its booklet", strings.Join(is, " "))
	}
	return nil
}

// probes are how often a probe is read; the middle reading counts.
const probes = 3

// Moisture reads a probe: water in the soil as per cent of its volume.
func Moisture(ctx context.Context, addr string) (float64, error) {
	l, err := meet(ctx, addr, "PROBE")
	if err != nil {
		return 0, err
	}
	defer l.conn.Close()
	var list []float64
	for range probes {
		words, err := l.ask(ctx, "M", "MOIST")
		if err != nil {
			return 0, err
		}
		if len(words) != 2 {
			return 0, ErrGarbled
		}
		v, err := number(words[0], 0, 100)
		if err != nil {
			return 0, err
		}
		list = append(list, v)
	}
	slices.Sort(list)
	return list[probes/2], nil
}
