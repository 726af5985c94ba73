package web
import ("testing";"math/rand/v2";"os";"strconv";"fmt";"time")
func TestZZRandom(t *testing.T){
	n,_ := strconv.Atoi(os.Getenv("ZZN")); seed,_ := strconv.Atoi(os.Getenv("ZZSEED"))
	server := &fuzzed{}
	dir := t.TempDir()
	for i:=range n {
		r := rand.New(rand.NewPCG(uint64(seed), uint64(i)))
		raw := make([]byte, 40+r.IntN(200))
		for k := range raw { raw[k]=byte(r.Uint32()) }
		t0:=time.Now()
		t.Run(fmt.Sprint(i), func(t *testing.T){
			server.fresh(t,dir)
			c := &choices{raw}
			id := server.begin(t,c)
			for range 12 { server.form(t,c,id); if len(c.raw)==0 {break} }
			server.holds(t,c,id)
		})
		if d:=time.Since(t0); d>5*time.Second { fmt.Println("slow",i,d) }
	}
}
