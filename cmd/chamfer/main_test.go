package main

import (
	"bytes"
	"encoding/json"
	"os"
	"path/filepath"
	"strings"
	"testing"
)

func call(t *testing.T, stdin string, args ...string) (code int, out, errOut string) {
	t.Helper()
	var o, e bytes.Buffer
	code = run(args, strings.NewReader(stdin), &o, &e)
	return code, o.String(), e.String()
}

const request = `{"kerf": "1/8 in", "stock": [
  {"id": "c26-8", "profile": "2x6", "length": "8 ft", "price": "11.40"},
  {"id": "c26-12", "profile": "2x6", "length": "12 ft", "price": "16.90"},
  {"id": "shed-1", "profile": "2x6", "length": "53 in", "price": "0", "quantity": 1, "trim": {"start": "1 in", "end": "0 in"}}],
 "pieces": [{"id": "side", "profile": "2x6", "length": "93 1/2 in", "quantity": 4}]}`

// The cut command: the worked example, one-line refusals with exit code 2, and
// exit code 3 with the piece and the reason where something cannot be had.
func TestCut(t *testing.T) {
	file := filepath.Join(t.TempDir(), "cuts.json")
	if err := os.WriteFile(file, []byte(request), 0o644); err != nil {
		t.Fatal(err)
	}
	for _, args := range [][]string{{"cut", file}, {"cut", "-"}} {
		code, out, errOut := call(t, request, args...)
		var a struct {
			Cost, Lower_bound string
			Proved            bool
			Boards            []struct {
				Stock, Offcut string
				Count         int
			}
			Elapsed_ms *float64
		}
		if err := json.Unmarshal([]byte(out), &a); err != nil || code != 0 || errOut != "" {
			t.Fatalf("code %d, %v, %s", code, err, errOut)
		}
		if a.Cost != "45.60" || a.Lower_bound != "45.60" || !a.Proved || a.Elapsed_ms == nil || len(a.Boards) != 1 || a.Boards[0].Count != 4 || a.Boards[0].Offcut != "2 3/8 in" {
			t.Errorf("%+v", a)
		}
	}
	code, out, errOut := call(t, strings.Replace(request, `"pieces": [`, `"pieces": [{"id": "beam", "profile": "2x6", "length": "20 ft", "quantity": 2},`, 1), "cut", "-")
	if code != exitInfeasible || !strings.Contains(errOut, "2 of piece beam: ") || !strings.Contains(errOut, "longer than the longest") || !strings.Contains(out, `"unmet"`) || !strings.Contains(out, `"45.60"`) {
		t.Errorf("code %d\n%s\n%s", code, out, errOut)
	}
	for _, bad := range []string{"", "{", "[]", strings.Replace(request, "8 ft", "8 furlongs", 1), strings.Replace(request, "11.40", "x", 1), strings.Replace(request, `"kerf"`, `"curf"`, 1)} {
		code, out, errOut := call(t, bad, "cut", "-")
		if code != exitMalformed || out != "" || strings.Count(errOut, "\n") != 1 {
			t.Errorf("%q: code %d, %s", bad, code, errOut)
		}
	}
}

func TestExamplesPlan(t *testing.T) {
	code, list, _ := call(t, "", "examples")
	if code != 0 || !strings.Contains(list, "boarded") {
		t.Errorf("code %d: %s", code, list)
	}
	for _, line := range strings.Split(strings.TrimSpace(list), "\n") {
		name, _, _ := strings.Cut(line, " ")
		for _, region := range []string{"us", "metric"} {
			_, file, _ := call(t, "", "examples", name, "--region", region)
			code, out, errOut := call(t, file, "plan", "-")
			var plan map[string]any
			if err := json.Unmarshal([]byte(out), &plan); err != nil || code != 0 || plan["parts"] == nil {
				t.Errorf("%s, %s: code %d, %v, %s", name, region, code, err, errOut)
			}
		}
	}
	for _, args := range [][]string{{"examples", "nothing"}, {"examples", "boarded", "--region", "moon"}, {"plan"}, {"plan", "-"}, {"cut", "--nonsense"}} {
		if code, _, errOut := call(t, "not a design", args...); code != exitMalformed || errOut == "" {
			t.Errorf("%v: code %d, %s", args, code, errOut)
		}
	}
	if code, _, _ := call(t, "", "plan", "/no/such/file"); code != exitFault {
		t.Errorf("a missing file: code %d", code)
	}
	if code, out, _ := call(t, "", "version"); code != 0 || !strings.Contains(out, "chamfer/1") {
		t.Errorf("version: %d, %s", code, out)
	}
}
