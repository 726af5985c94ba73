package plan_test
import ("testing";"fmt";"os";"chamfer/core/design";"chamfer/core/plan";"sort")
func TestZZ(t *testing.T){
  out,_ := os.Create("/tmp/whys.txt")
  for _, region := range []string{"us","metric"} {
  shop,_ := plan.ShopFor(region)
  for _, e := range design.Examples() { 
      d, _ := design.ExampleNamed(e.Name, shop.Catalog)
      p, err := plan.Make(d, shop); if err!=nil {fmt.Println(err);continue}
      all := whys(p)
      var keys []string
      for k := range all { keys=append(keys,k) }
      sort.Strings(keys)
      for _, k := range keys { fmt.Fprintf(out, "%s %s | %s: %v\n", region, e.Name, k, p.Explain(all[k])) }
      for _, l := range p.Bill.Lines { fmt.Fprintf(out, "%s %s | bill %s %d x %s: %s\n", region, e.Name, l.Item, l.Quantity, l.Unit, l.Why) }
  }
 }
}
