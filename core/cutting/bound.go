package cutting

import (
	"math/big"
	"math/bits"
	"slices"

	"chamfer/core/measure"
	"chamfer/core/money"
)

// What no plan can beat is reckoned in whole numbers from any prices v on the
// pieces, however they were found: a board of stock s yields pieces worth at
// most z(s), so the pieces together are worth at most what the boards are, and
//
//	price of the boards  >=  sum v(k) want(k)  +  sum over boards (price(s) - z(s))
//
// where stock that is limited counts at most so often and stock that is not may
// not be worth more than its price (Farley 1990, Operations Research 38:922;
// Lagrange's bound). All in parts of a cent; the last step rounds up to a cent.

// priced is a bound with the prices it was drawn from.
type priced struct {
	bound  *big.Int // parts of a cent
	value  []int64  // of a piece of each kind
	stocks []int64  // the most a board of each stock can be worth
}

// bound draws a bound on what is left to do from the program's prices.
func (m *master) bound() priced {
	g, st := m.g, m.st
	p := priced{value: m.values()}
	if p.stocks = m.worth; !slices.Equal(p.value, m.asked) {
		p.stocks = g.byStock(g.worthiest(p.value, st))
	}
	// Where stock without limit is worth more than its price, by rounding or
	// because the program was not brought to its end, all values shrink.
	num, den := uint64(1), uint64(1)
	for s, z := range p.stocks {
		price := uint64(g.stock[s].Price) * uint64(g.scale)
		if st.most[s] < 0 && uint64(z) > price && less128(price, den, num, uint64(z)) {
			num, den = price, uint64(z)
		}
	}
	if num != den {
		for k, v := range p.value {
			hi, lo := bits.Mul64(uint64(v), num)
			q, _ := bits.Div64(hi%den, lo, den)
			p.value[k] = int64(q)
		}
		p.stocks = g.byStock(g.worthiest(p.value, st))
	}
	total := new(big.Int)
	for k, v := range p.value {
		total.Add(total, new(big.Int).Mul(big.NewInt(v), big.NewInt(int64(st.want[k]))))
	}
	for s, z := range p.stocks {
		gain := int64(g.stock[s].Price)*g.scale - z
		n := st.least[s]
		if gain < 0 {
			n = st.most[s]
		}
		if n < 0 { // cannot be: the values were shrunk; claim nothing
			p.bound = new(big.Int)
			return p
		}
		total.Add(total, new(big.Int).Mul(big.NewInt(gain), big.NewInt(int64(n))))
	}
	if total.Sign() < 0 {
		total.SetInt64(0)
	}
	p.bound = total
	return p
}

// less128 reports whether a/b < c/d, exactly.
func less128(a, b, c, d uint64) bool {
	h1, l1 := bits.Mul64(a, d)
	h2, l2 := bits.Mul64(c, b)
	return h1 < h2 || h1 == h2 && l1 < l2
}

// byStock is the most a board of each stock can be worth, however it is
// parted.
func (g *group) byStock(ways []wayWorth) []int64 {
	most := make([]int64, len(g.stock))
	for w, f := range ways {
		s := g.ways[w].stock
		most[s] = max(most[s], f.value)
	}
	return most
}

// cents rounds parts of a cent up to a sum of boards' prices.
func (g *group) cents(parts *big.Int) money.Amount {
	c := new(big.Int).Add(parts, big.NewInt(g.scale-1))
	c.Quo(c, big.NewInt(g.scale))
	if !c.IsInt64() {
		return g.without
	}
	return money.Amount(c.Int64())
}

// sums answers which totals boards' prices can add up to while the boards are long
// enough for all pieces together.
type sums struct {
	unit    money.Amount // all prices are multiples of it
	most    []int64      // room that so many units can buy, -1 none; nil where there are too many
	need    int64        // room the pieces take
	room    []int64      // of a board of each stock, the most that pieces can take of it
	without money.Amount
}

// mostSums is how far totals are listed.
const mostSums = 400_000

func (g *group) listSums(upTo money.Amount) {
	unit := int64(0)
	for _, s := range g.stock {
		unit = gcd(unit, int64(s.Price))
	}
	unit = max(unit, 1)
	g.sums = sums{unit: money.Amount(unit), without: g.without}
	n := int64(upTo)/unit + 1
	if n > mostSums || n < 0 {
		return
	}
	room := g.roomOf()
	if g.sheet() || g.cut {
		g.sums.need, room = g.areas()
	}
	if g.takes != nil && !g.cut {
		for k, kind := range g.kinds {
			g.sums.need += int64(kind.want) * g.takes[k]
		}
	}
	g.sums.room = room
	most := make([]int64, n+1)
	for c := range most {
		most[c] = -1
	}
	most[0] = 0
	passes := int64(0)
	for i, s := range g.stock {
		step := int64(s.Price) / unit
		q := int64(s.Quantity)
		if s.Quantity == Unlimited || step > 0 && q > n/step {
			q = n // more than can be paid
		}
		if step == 0 {
			if s.Quantity == Unlimited {
				q = MaxPieces
			}
			for c := range most {
				if most[c] >= 0 {
					most[c] += q * room[i]
				}
			}
			continue
		}
		if passes += int64(bits.Len64(uint64(q))); n*passes > g.effort/4 {
			g.effort -= n * passes
			g.sums.need, g.sums.room = 0, nil
			return // listing them would take the time that searching needs
		}
		if q >= 64 {
			for c := step; c <= n; c++ {
				if was := most[c-step]; was >= 0 {
					most[c] = max(most[c], was+room[i])
				}
			}
			continue
		}
		for bundle := int64(1); q > 0; bundle *= 2 { // any number up to q is a sum of bundles
			bundle = min(bundle, q)
			q -= bundle
			for c := n; c >= bundle*step; c-- {
				if was := most[c-bundle*step]; was >= 0 {
					most[c] = max(most[c], was+bundle*room[i])
				}
			}
		}
	}
	g.effort -= n * max(passes, int64(len(g.stock)))
	g.sums.most = most
}

// up is the least total boards can come to that is no less than an amount, where
// so much room in them is wasted.
func (s sums) up(a money.Amount, wasted int64) money.Amount {
	if s.unit == 0 || a >= s.without {
		return a
	}
	c := int64((a + s.unit - 1) / s.unit)
	for s.most != nil && c < int64(len(s.most)) && s.most[c] < s.need+wasted {
		c++
	}
	return money.Amount(c) * s.unit
}

// areas is the area that all pieces take and what a board of each stock has, in
// thousands of square micrometres, each with a saw cut along two of its sides: however they are
// laid out, the pieces do not fit boards of less.
func (g *group) areas() (need int64, room []int64) {
	const um = measure.Micrometre
	kerf := min(g.kerf, g.ripKerf)
	side := func(l measure.Length) int64 { return int64((l + kerf) / um) }
	for _, k := range g.kinds {
		w := k.width
		if w == 0 {
			w = g.narrowest()
		}
		need += int64(k.want) * (side(k.length) * side(w) / 1000)
	}
	for _, s := range g.stock {
		room = append(room, side(s.Length+um)*side(g.widthOf(s)+um)/1000+1)
	}
	return need, room
}

// narrowest is the width of the narrowest board.
func (g *group) narrowest() measure.Length {
	w := g.wide()
	for _, s := range g.stock {
		w = min(w, g.widthOf(s))
	}
	return w
}

// roomOf is how much of a board of each stock pieces can take at most.
func (g *group) roomOf() []int64 {
	size, st := make([]int64, len(g.kinds)), state{}
	for k, kind := range g.kinds {
		if size[k] = kind.size; g.takes != nil {
			size[k] = g.takes[k]
		}
		st.want = append(st.want, kind.want)
	}
	for _, s := range g.stock {
		st.most = append(st.most, s.Quantity)
	}
	return g.byStock(g.worthiest(size, st))
}

// wasted is the room in fills that pieces could have taken and did not.
func (g *group) wasted(fills []fill) int64 {
	sum := int64(0)
	if g.sums.need == 0 || g.sheet() || g.cut {
		return sum
	}
	for _, f := range fills {
		sum += g.sums.room[g.ways[f.way].stock]
		for k, n := range f.gets {
			sum -= int64(n) * g.takes[k]
		}
	}
	return sum
}
