package cost

import "chamfer/core/money"

// Taken is a line of the bill with so many of its packs in the cart.
type Taken struct {
	Line
	Packs int // in the cart
	More  int // still to take; below 0 to put back
}

// Cart is an aisle as it is walked.
type Cart struct {
	Shop, Name string
	Lines      []Taken
	Sum        money.Amount // of what is to be bought
}

// Cart holds what is in the cart to what is to be bought, by shop and aisle, and tells what it comes to, before tax.
// What is on no line any more is not in it: see [Bill.Back].
func (b Bill) Cart(packs map[string]int) (list []Cart, spent money.Amount) {
	for _, a := range b.Aisles() {
		c := Cart{Shop: a.Shop, Name: a.Name, Sum: a.Sum()}
		for _, l := range a.Lines {
			n := packs[l.SKU]
			c.Lines = append(c.Lines, Taken{l, n, l.Quantity - n})
			spent += l.Price.Times(n)
		}
		list = append(list, c)
	}
	return list, spent
}

// Back are the numbers of what is in the cart and on no line of the bill.
func (b Bill) Back(packs map[string]int) map[string]int {
	back := map[string]int{}
	for sku, n := range packs {
		if n > 0 {
			back[sku] = n
		}
	}
	for _, l := range b.Lines {
		if !l.Owned {
			delete(back, l.SKU)
		}
	}
	return back
}
