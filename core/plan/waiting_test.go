package plan

import (
	"context"
	"errors"
	"sync/atomic"
	"testing"

	"chamfer/core/design"
	"chamfer/core/measure"
)

// patient is a context that is done once it has been asked so many times whether it is.
type patient struct {
	context.Context
	left atomic.Int64
}

func (p *patient) Err() error {
	if p.left.Add(-1) < 0 {
		return context.Canceled
	}
	return nil
}

// Who stops waiting is planned for no longer: of 60 what-ifs and 29 sizes nearby, and of a
// plan whose remedies are built anew, no more is begun than before they left.
func TestNobodyWaits(t *testing.T) {
	shop, err := ShopFor("us")
	if err != nil {
		t.Fatal(err)
	}
	d := design.New(shop.Catalog, "left")
	now, err := Make(d, shop)
	if err != nil {
		t.Fatal(err)
	}
	var asks [][]design.Edit
	for i := range 60 {
		asks = append(
			asks,
			[]design.Edit{{Bed: "b1", Field: "length", Value: (measure.Length(60+i) * measure.Inch).String()}},
		)
	}
	const patience = 20
	for name, ask := range map[string]func(ctx context.Context){
		"what-ifs": func(ctx context.Context) {
			gone := 0
			for _, o := range WhatIfs(ctx, now, asks) {
				if o.Unasked || errors.Is(o.Err, context.Canceled) {
					gone++
				}
			}
			if gone < len(asks)-patience {
				t.Errorf("only %d of %d were left out", gone, len(asks))
			}
		},
		"sizes nearby": func(ctx context.Context) { Nearby(ctx, now, "b1", "length", measure.Inch, 14) },
		"a plan": func(ctx context.Context) {
			ctx.(*patient).left.Store(1)
			if _, err := MakeFor(ctx, d, shop); !errors.Is(err, context.Canceled) {
				t.Errorf("a plan nobody waits for comes to %v", err)
			}
		},
	} {
		ctx := &patient{Context: context.Background()}
		ctx.left.Store(patience)
		before := reckoned.Load()
		ask(ctx)
		if made := reckoned.Load() - before; made > patience {
			t.Errorf("%s: %d plans were made, and whoever asked was gone after %d", name, made, patience)
		}
	}
}
