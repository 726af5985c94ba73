package catalog

import (
	"fmt"

	"chamfer/core/money"
)

// Booster is something that feeds a bed and takes no room in it: it is forked into the top layer.
type Booster struct {
	ID, Name string
	Unit     string  // "g" or "ml"
	Rate     float64 // of them to the square metre
	Pack     int     // of them in a bag
	Price    money.Amount
	Source   string
}

// Booster looks one up by its ID.
func (c *Catalog) Booster(id string) (Booster, error) {
	for _, b := range c.Boosters {
		if b.ID == id {
			return b, nil
		}
	}
	return Booster{}, fmt.Errorf("booster %q %w", id, ErrNotSold)
}
