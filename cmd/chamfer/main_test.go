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
  {"id": "shed-1", "profile": "2x6", "length": "53 in", "price": "0", "quantity": 1, "trim": {"start": "1 in",
	"end": "0 in"}}],
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
		if a.Cost != "45.60" || a.Lower_bound != "45.60" || !a.Proved || a.Elapsed_ms == nil || len(a.Boards) != 1 ||
			a.Boards[0].Count != 4 ||
			a.Boards[0].Offcut != "2 3/8 in" {
			t.Errorf("%+v", a)
		}
	}
	code, out, errOut := call(
		t,
		strings.Replace(
			request,
			`"pieces": [`,
			`"pieces": [{"id": "beam", "profile": "2x6", "length": "20 ft", "quantity": 2},`,
			1,
		),
		"cut",
		"-",
	)
	if code != exitInfeasible || !strings.Contains(errOut, "2 of piece beam: ") ||
		!strings.Contains(errOut, "longer than the longest") ||
		!strings.Contains(out, `"unmet"`) ||
		!strings.Contains(out, `"45.60"`) {
		t.Errorf("code %d\n%s\n%s", code, out, errOut)
	}
	for _, bad := range []string{"", "{", "[]", strings.Replace(request, "8 ft", "8 furlongs", 1),
		strings.Replace(request, "11.40", "x", 1), strings.Replace(request, `"kerf"`, `"curf"`, 1)} {
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
	for _, args := range [][]string{{"examples", "nothing"}, {"examples", "boarded", "--region", "moon"}, {"plan"},
		{"plan", "-"}, {"cut", "--nonsense"}} {
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

// The optional fields of a cut request, and sizes past every limit: one clear
// line and exit code 2.
func TestCutFields(t *testing.T) {
	code, out, errOut := call(
		t,
		`{"kerf": "1/8 in", "rip_kerf": "1/8 in", "keep": "12 in", "aims": ["boards"], "budget": 0.5,
		"stock": [{"id": "a", "profile": "p", "length": "96 in", "width": "3 1/2 in", "price": "5.00",
			"defects": [{"from": "90 1/4 in", "to": "92 in"}]}],
		"pieces": [{"id": "a", "profile": "p", "length": "60 in", "width": "1 1/2 in"}, {"id": "b", "profile": "p",
			"length": "30 in", "width": "1 1/2 in"},
			{"id": "c", "profile": "p", "length": "50 in", "width": "1 1/2 in"}, {"id": "d", "profile": "p",
			  "length": "40 in", "width": "1 1/2 in"}]}`,
		"cut",
		"-",
	)
	for _, want := range []string{`"cost": "5.00"`, `"proved": true`, `"crosscut, rip, crosscut"`, `"strips"`,
		`"at": "60 1/8 in"`, `"strip": 2`} {
		if code != 0 || !strings.Contains(out, want) {
			t.Errorf("code %d, no %s in\n%s%s", code, want, out, errOut)
		}
	}
	code, out, errOut = call(
		t,
		`{"kerf": "1/8 in", "shop": {"carry": "10 ft", "fee": "4.00", "free": 1, "loss": "1/8 in"},
		"stock": [{"id": "16", "profile": "p", "length": "16 ft", "price": "10.00"}], "pieces": [{"id": "q",
		  "profile": "p", "length": "45 in", "quantity": 8}]}`,
		"cut",
		"-",
	)
	if code != 0 || !strings.Contains(out, `"cost": "24.00"`) || !strings.Contains(out, `"shop_cuts": 2`) ||
		!strings.Contains(out, `"part"`) {
		t.Errorf("code %d\n%s%s", code, out, errOut)
	}
	for fault, change := range map[string][2]string{
		"pieces: ":                    {`{"id": "side", "profile": "2x6", "length": "93 1/2 in", "quantity": 4}`, ``},
		"pieces[0].length: a piece":   {`"93 1/2 in"`, `"0 in"`},
		"pieces[0].length":            {`"93 1/2 in"`, `"-2 in"`},
		"pieces[0].length: 1/16 in":   {`"93 1/2 in"`, `"1/16 in"`},
		"pieces[0].quantity: 1000000": {`"quantity": 4`, `"quantity": 1000000`},
		"more than 10000 pieces": {`"quantity": 4}`,
			`"quantity": 6000}, {"id": "b", "profile": "2x6", "length": "10 in", "quantity": 6000}`},
		"aims":             {`"kerf"`, `"aims": ["beauty"], "kerf"`},
		"budget":           {`"kerf"`, `"budget": -1, "kerf"`},
		"stock[0].defects": {`"price": "11.40"`, `"price": "11.40", "defects": [{"from": "3 in", "to": "2 in"}]`},
		"pieces[0].width":  {`"93 1/2 in"`, `"93 1/2 in", "width": "-1 in"`},
	} {
		code, out, errOut := call(t, strings.Replace(request, change[0], change[1], 1), "cut", "-")
		if code != exitMalformed || out != "" || strings.Count(errOut, "\n") != 1 || !strings.Contains(errOut, fault) {
			t.Errorf("%s: code %d, %s", fault, code, errOut)
		}
	}
}

// A region is printed, changed, and taken by every command that is told of its file; a file that is none is refused in
// one line, and nothing is done.
func TestRegionCommand(t *testing.T) {
	code, raw, errOut := call(t, "", "region", "metric", "--id", "brook", "--name", "The brook")
	if code != 0 || errOut != "" {
		t.Fatalf("code %d, %s", code, errOut)
	}
	file := filepath.Join(t.TempDir(), "brook.json")
	if err := os.WriteFile(file, []byte(strings.Replace(raw, `"EUR"`, `"XTS"`, 1)), 0o644); err != nil {
		t.Fatal(err)
	}
	bad := filepath.Join(t.TempDir(), "bad.json")
	if err := os.WriteFile(bad, []byte(strings.Replace(raw, `"like": "metric"`, `"like": "moon"`, 1)), 0o644); err != nil {
		t.Fatal(err)
	}
	if code, out, errOut := call(t, "", "examples", "boarded", "--region-file", bad); code != exitMalformed || out != "" ||
		strings.Count(errOut, "\n") != 1 || !strings.Contains(errOut, "like:") {
		t.Errorf("a file that is none: code %d, %q", code, errOut)
	}
	code, design, errOut := call(t, "", "examples", "boarded", "--region-file", file, "--region", "brook")
	if code != 0 || !strings.Contains(design, `"region": "brook"`) {
		t.Fatalf("an example there: code %d, %s", code, errOut)
	}
	// It is there from now on in this process, as it is in one that was begun with it.
	if code, out, errOut := call(t, design, "plan", "-"); code != 0 || !strings.Contains(out, `"currency": "XTS"`) {
		t.Errorf("planned there: code %d, %s", code, errOut)
	}
	if code, _, errOut := call(t, "", "plan", "--region-file", file, "-"); code != exitMalformed ||
		!strings.Contains(errOut, "already") {
		t.Errorf("added twice: code %d, %s", code, errOut)
	}
}
