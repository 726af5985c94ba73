package export

import (
	"bytes"
	"crypto/sha256"
	_ "embed"
	"encoding/base32"
	"encoding/base64"
	"encoding/json"
	"errors"
	"fmt"
	"html/template"
	"io"
	"strings"

	"chamfer/core/plan"
	"chamfer/draw"
)

// A build sheet is the steps of a project in one file that a browser opens anywhere, with no network: for a phone in
// the drive that these pages cannot reach. What is ticked stays in it, and is carried back by a short code, or by a
// small file.
//
// The code is in base 32 without letters that look alike: two bytes that say which steps they are, a bit for each step,
// the first the highest, and a byte that shows a slip of the pen.

//go:embed buildsheet.html
var buildsheet string

//go:embed buildsheet.js
var buildsheetScript string

//go:embed buildsheet.css
var buildsheetStyle string

var sheetPage = template.Must(template.New("buildsheet").Parse(buildsheet))

// letters of the code, as Crockford's base 32 has them.
var letters = base32.NewEncoding("0123456789ABCDEFGHJKMNPQRSTVWXYZ").WithPadding(base32.NoPadding)

// TicksFormat names the file that carries ticks.
const TicksFormat = "chamfer-ticks-1"

type sheetStep struct {
	ID, Title, Where string
	Number           int
	Cautions         [][2]string
	Do, Have         []string
	Drawing          template.HTML
}

// WriteBuildSheet writes the steps of a plan as one HTML file.
func WriteBuildSheet(w io.Writer, p *plan.Plan) error {
	page := struct {
		Name, Stamp, Policy string
		Steps               []sheetStep
		Style               template.CSS
		Script              template.JS
	}{Name: p.Design.Name, Style: template.CSS(buildsheetStyle), Script: template.JS(buildsheetScript)}
	hash := sha256.Sum256([]byte(buildsheetScript))
	page.Policy = "default-src 'none'; style-src 'unsafe-inline'; script-src 'sha256-" +
		base64.StdEncoding.EncodeToString(hash[:]) + "'"
	stamp := stampOf(p)
	page.Stamp = fmt.Sprintf("%02x%02x", stamp[0], stamp[1])
	for i, st := range p.Steps {
		s := sheetStep{ID: st.ID, Title: st.Title, Where: st.Where, Number: i + 1, Do: st.Do, Have: st.Have}
		for _, c := range st.Cautions {
			s.Cautions = append(s.Cautions, [2]string{c.Text, c.Why})
		}
		sheet := draw.Sheet{W: 340, H: 240, Font: 14, Own: true, Plain: true, Parts: st.Parts, New: st.New}
		switch {
		case st.Sheet != "":
			s.Drawing = template.HTML(draw.Lining(p, st.Sheet, draw.Sheet{W: 340, H: 250, Font: 12, Own: true}))
		case len(st.Parts) > 0:
			s.Drawing = template.HTML(draw.Bed(p, st.Bed, draw.Solid, sheet))
		}
		page.Steps = append(page.Steps, s)
	}
	var b bytes.Buffer
	if err := sheetPage.Execute(&b, page); err != nil {
		return err
	}
	_, err := w.Write(p.Shop.Speech().Markup(b.Bytes(), InMarkup(p)...))
	return err
}

// stampOf says which steps a code is of.
func stampOf(p *plan.Plan) [2]byte {
	var ids []string
	for _, st := range p.Steps {
		ids = append(ids, st.ID)
	}
	h := sha256.Sum256([]byte(strings.Join(ids, "\n")))
	return [2]byte{h[0], h[1]}
}

// TicksCode is the code of the steps that are done, by ID.
func TicksCode(p *plan.Plan, done map[string]bool) string {
	stamp := stampOf(p)
	raw := append(stamp[:], make([]byte, (len(p.Steps)+7)/8)...)
	for i, st := range p.Steps {
		if done[st.ID] {
			raw[2+i/8] |= 0x80 >> (i % 8)
		}
	}
	text := letters.EncodeToString(append(raw, slip(raw)))
	var groups []string
	for ; len(text) > 4; text = text[4:] {
		groups = append(groups, text[:4])
	}
	return strings.Join(append(groups, text), "-")
}

// slip is a byte that differs where one letter of a code does: CRC-8 with the polynomial 0x07 (ITU-T I.432.1).
func slip(raw []byte) byte {
	var crc byte
	for _, b := range raw {
		crc ^= b
		for range 8 {
			if crc&0x80 != 0 {
				crc = crc<<1 ^ 0x07
			} else {
				crc <<= 1
			}
		}
	}
	return crc
}

// ReadTicks reads a code, or the file that a build sheet saves: every step of the plan by its ID, done or
// not.
func ReadTicks(p *plan.Plan, text string) (map[string]bool, error) {
	done := map[string]bool{}
	if strings.HasPrefix(text, "{") {
		var file struct {
			Format string   `json:"format"`
			Done   []string `json:"done"`
		}
		if err := json.Unmarshal([]byte(text), &file); err != nil || file.Format != TicksFormat {
			return nil, errors.New("this is no file of ticks; a build sheet saves one, which ends in .ticks.json")
		}
		for _, st := range p.Steps {
			done[st.ID] = false
		}
		for _, id := range file.Done {
			if _, is := done[id]; is {
				done[id] = true
			}
		}
		return done, nil
	}
	plain := strings.Map(func(r rune) rune {
		switch r {
		case '-', ' ', '\n', '\r', '\t':
			return -1
		case 'o', 'O':
			return '0'
		case 'i', 'I', 'l', 'L':
			return '1'
		}
		return r
	}, text)
	raw, err := letters.DecodeString(strings.ToUpper(plain))
	if plain == "" || err != nil || len(raw) < 3 || slip(raw[:len(raw)-1]) != raw[len(raw)-1] {
		return nil, errors.New("there is a slip in this code: look at each letter again; it stands below the steps of the" +
			" saved sheet")
	}
	stamp := stampOf(p)
	if raw[0] != stamp[0] || raw[1] != stamp[1] || len(raw) != 3+(len(p.Steps)+7)/8 {
		return nil, errors.New("this code is of other steps: the design has changed since the sheet was saved, or it is" +
			" another project's; the file of ticks that the sheet saves is taken all the same")
	}
	for i, st := range p.Steps {
		done[st.ID] = raw[2+i/8]&(0x80>>(i%8)) != 0
	}
	return done, nil
}
