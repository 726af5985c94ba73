package cutting

import (
	"cmp"
	"fmt"
	"math"
	"math/big"
	"slices"
	"strconv"

	"chamfer/core/measure"
	"chamfer/core/money"
)

// Join says how a piece may be made of shorter ones, end to end, with a plate
// over every joint.
//
//	|===========|====================|============|
//	    post       joint         post    joint      post
type Join struct {
	Least measure.Length // the shortest part
	Cost  money.Amount   // of a joint: its plates and screws
	Clear []Span         // of the piece from its left end, where no joint may be: posts
	// Joints of pieces in neighbouring courses of a wall lie Apart.
	Wall   string
	Course int
	Apart  measure.Length
	Step   measure.Length // joints lie whole steps from the left end; anywhere where zero
}

// Joined is where one piece is joined.
type Joined struct {
	Piece  string
	Joints []measure.Length // from its left end; none where it stays whole
}

// long is one piece that may be joined.
type long struct {
	line   int // of the request's pieces
	copy   int
	length measure.Length
	join   *Join
	joints []measure.Length
}

// partOf says of what a length that is cut is a part: long is -1 for a piece that
// may not be joined, part 0 for a whole one.
type partOf struct {
	id         string
	long, part int
}

// joiner looks for where to join: every piece by turns is tried with the joints
// that would let its parts use up a board, or a leftover, and keeps those that
// make the whole cheaper.
type joiner struct {
	r      Request
	longs  []long
	known  map[string]money.Amount
	unmet  []Unmet
	trials int // how many there may be
}

// triedEffort is the work of one trial. Of all there is, half goes into trials,
// so many at least and at most.
const (
	triedEffort = 100_000
	fewTrials   = 50
	manyTrials  = 1500
	manyKinds   = 60 // of parts, whose trials take so long that a fifth of the fewest has to do
)

func withJoins(r Request) (Answer, error) {
	j := joiner{r: r, known: map[string]money.Amount{}}
	for i, p := range r.Pieces {
		for c := range p.Quantity {
			if p.Join != nil {
				j.longs = append(j.longs, long{i, c, p.Length, p.Join, nil})
			}
		}
	}
	for i := range j.longs {
		if joints, ok := j.fewest(i); ok {
			j.longs[i].joints = joints
		}
	}
	kinds := int64(len(r.Pieces))
	trial := max(triedEffort, 60*kinds*kinds) // the program of many kinds takes longer than the rest
	few := fewTrials
	if kinds > manyKinds {
		few = fewTrials / 5
	}
	j.trials = min(manyTrials, max(few, int(cmp.Or(r.Effort, DefaultEffort)/(2*trial))))
	now := j.cost()
	for before := now + 1; now < before && !j.stopped(); {
		before = now
		now = j.pass(now, -1)
		for i := 0; i < len(j.longs) && !j.stopped(); i++ {
			now = j.anew(now, i)
		}
	}
	return j.answer()
}

func (j *joiner) stopped() bool {
	select {
	case <-j.r.Stop:
		return true
	default:
		return len(j.known) >= j.trials
	}
}

// pass tries every piece by turns, one of them last, and keeps what is cheaper.
func (j *joiner) pass(now money.Amount, last int) money.Amount {
	for n := range len(j.longs) + 1 {
		i := n
		if n == len(j.longs) {
			i = last
		} else if n == last {
			continue
		}
		if i < 0 {
			continue
		}
		best := j.longs[i].joints
		for _, joints := range j.candidates(i) {
			if j.longs[i].joints = joints; j.least() >= now {
				continue
			}
			if j.stopped() {
				break
			}
			if c := j.cost(); c < now {
				now, best = c, joints
			}
		}
		j.longs[i].joints = best
	}
	return now
}

// anew joins a piece as at the start and tries the others before it again.
func (j *joiner) anew(now money.Amount, i int) money.Amount {
	was := slices.Clone(j.longs)
	joints, ok := j.fewest(i)
	if !ok || slices.Equal(joints, was[i].joints) {
		return now
	}
	j.longs[i].joints = joints
	if c := j.pass(j.cost(), i); c < now {
		return c
	}
	copy(j.longs, was)
	return now
}

// least is what the joints and boards with room for everything come to.
func (j *joiner) least() money.Amount {
	sum := money.Amount(0)
	need := map[string]int64{}
	for _, p := range j.r.Pieces {
		if p.Join == nil && p.Width == 0 { // a board's width holds several that are ripped
			need[p.Profile] += int64(p.Quantity) * int64(p.Length+j.r.Kerf)
		}
	}
	for _, l := range j.longs {
		n := len(l.joints)
		sum += money.Amount(n) * l.join.Cost
		need[j.r.Pieces[l.line].Profile] += int64(l.length) + int64(n+1)*int64(j.r.Kerf)
	}
	for _, profile := range profiles(j.r) {
		sum += roomPrice(j.r, profile, need[profile])
	}
	return sum
}

// parts are the lengths that a piece is made of.
func (l long) parts() []measure.Length {
	var list []measure.Length
	from := measure.Length(0)
	for _, at := range l.joints {
		list, from = append(list, at-from), at
	}
	return append(list, l.length-from)
}

// request asks for the parts instead of the pieces. Its pieces' names are numbers
// of the list that comes with it.
func (j *joiner) request() (Request, []partOf) {
	q := j.r
	q.Pieces = nil
	var names []partOf
	add := func(p Piece, long, part int) {
		names = append(names, partOf{p.ID, long, part})
		p.ID, p.Join = strconv.Itoa(len(names)-1), nil
		q.Pieces = append(q.Pieces, p)
	}
	for _, p := range j.r.Pieces {
		if p.Join == nil {
			add(p, -1, 0)
		}
	}
	for i, l := range j.longs {
		p := j.r.Pieces[l.line]
		p.Quantity = 1
		for k, length := range l.parts() {
			p.Length = length
			if len(l.joints) == 0 {
				k = -1
			}
			add(p, i, k+1)
		}
	}
	return q, names
}

// cost is what the joints, and the boards by a short search, come to.
func (j *joiner) cost() money.Amount {
	var lengths []int64
	joints := money.Amount(0)
	for _, l := range j.longs {
		for _, p := range l.parts() {
			lengths = append(lengths, int64(l.line), int64(p))
		}
		joints += money.Amount(len(l.joints)) * l.join.Cost
	}
	key := sortedPairs(lengths)
	c, ok := j.known[key]
	if !ok {
		q, _ := j.request()
		q.Effort, q.Progress, q.Aims = triedEffort, nil, []Aim{}
		a, err := cutOnly(q)
		c = a.Cost
		for _, u := range a.Unmet {
			c += money.Max / 1000 * money.Amount(u.Quantity)
		}
		if err != nil {
			c = math.MaxInt64 / 2
		}
		j.known[key] = c
	}
	return c + joints
}

func sortedPairs(list []int64) string {
	pairs := make([][2]int64, len(list)/2)
	for i := range pairs {
		pairs[i] = [2]int64{list[2*i], list[2*i+1]}
	}
	slices.SortFunc(pairs, func(a, b [2]int64) int { return slices.Compare(a[:], b[:]) })
	return fmt.Sprint(pairs)
}

// answer cuts the parts with all the effort there is, and says where the pieces
// are joined. A piece whose parts cannot all be had is left out whole.
func (j *joiner) answer() (Answer, error) {
	q, names := j.request()
	a, err := cutOnly(q)
	if err != nil {
		return a, err
	}
	lost := map[int]string{} // pieces with a part that cannot be had, and why
	var unmet []Unmet
	for _, u := range a.Unmet {
		n, _ := strconv.Atoi(u.Piece)
		if names[n].long < 0 {
			unmet = append(unmet, Unmet{names[n].id, u.Quantity, u.Reason})
		} else {
			lost[names[n].long] = u.Reason
		}
	}
	if len(lost) > 0 {
		var rest []long
		for i, l := range j.longs {
			if why, ok := lost[i]; ok {
				j.unmet = append(j.unmet, Unmet{j.r.Pieces[l.line].ID, 1, why})
			} else {
				rest = append(rest, l)
			}
		}
		j.longs = rest
		return j.answer()
	}
	a.Unmet = append(unmet, j.unmet...)
	for b := range a.Boards {
		for c := range a.Boards[b].Cuts {
			cut := &a.Boards[b].Cuts[c]
			n, _ := strconv.Atoi(cut.Piece)
			cut.Piece, cut.Part = names[n].id, names[n].part
		}
	}
	for _, l := range j.longs {
		a.Joined = append(a.Joined, Joined{j.r.Pieces[l.line].ID, slices.Clone(l.joints)})
		a.Cost += money.Amount(len(l.joints)) * l.join.Cost
	}
	a.LowerBound = 0
	if len(a.Unmet) == 0 {
		bound, err := j.bound()
		if err != nil {
			return a, err
		}
		a.LowerBound = min(bound, a.Cost)
	}
	a.Proved = a.LowerBound == a.Cost
	return a, nil
}

// bound is what no plan can be cheaper than, wherever the joints are: the joints
// without which a piece is too long for any board, and the boards that have room
// for all pieces, or those for the other pieces alone.
func (j *joiner) bound() (money.Amount, error) {
	joints := money.Amount(0)
	whole := joiner{r: j.r, longs: slices.Clone(j.longs)}
	for i, l := range j.longs {
		whole.longs[i].joints = nil
		if rooms := j.rooms(i); len(rooms) > 0 {
			joints += l.join.Cost * money.Amount((l.length-1)/rooms[0])
		}
	}
	room := whole.least()
	q := j.r
	q.Pieces = slices.DeleteFunc(slices.Clone(q.Pieces), func(p Piece) bool { return p.Join != nil })
	if len(q.Pieces) == 0 {
		return joints + room, nil
	}
	a, err := cutOnly(q)
	return joints + max(room, a.LowerBound), err
}

// roomPrice is the least that boards with so much room can cost, parts of the
// dearest among them allowed, in whole cents upwards.
func roomPrice(r Request, profile string, need int64) money.Amount {
	type offer struct {
		price money.Amount
		room  int64
		most  int
	}
	var offers []offer
	for _, s := range r.Stock {
		if s.Profile != profile || s.Quantity == 0 {
			continue
		}
		o := offer{s.Price, 0, s.Quantity}
		for _, run := range s.runs() {
			o.room += int64(run[1] - run[0] + r.Kerf)
		}
		if r.Shop != nil { // parted in two
			o.room += int64(r.Kerf)
		}
		offers = append(offers, o)
	}
	slices.SortStableFunc(offers, func(a, b offer) int {
		return new(
			big.Int,
		).Mul(big.NewInt(int64(a.price)), big.NewInt(b.room)).
			Cmp(new(big.Int).Mul(big.NewInt(int64(b.price)), big.NewInt(a.room)))
	})
	sum := money.Amount(0)
	for _, o := range offers {
		if need <= 0 {
			break
		}
		n := int64(o.most)
		if o.most == Unlimited || n > need/o.room {
			n = need / o.room
			part := new(big.Int).Mul(big.NewInt(int64(o.price)), big.NewInt(need%o.room))
			part.Add(part, big.NewInt(o.room-1)).Quo(part, big.NewInt(o.room))
			return sum + o.price*money.Amount(n) + money.Amount(part.Int64())
		}
		sum += o.price * money.Amount(n)
		need -= o.room * n
	}
	return sum
}
