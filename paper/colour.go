package paper

import (
	"bytes"
	"encoding/binary"
	"strconv"
	"sync"
)

// colour is red, green and blue.
type colour struct{ r, g, b int }

var ink, inkSoft, line = colour{0x2a, 0x24, 0x1d}, colour{0x5b, 0x50, 0x44}, colour{0x8d, 0x7d, 0x66}

func (p *Pages) ink(c colour)    { p.pdf.SetTextColor(c.r, c.g, c.b) }
func (p *Pages) stroke(c colour) { p.pdf.SetDrawColor(c.r, c.g, c.b) }

// hex reads #rgb or #rrggbb.
func hex(s string) (colour, bool) {
	if len(s) == 4 && s[0] == '#' {
		s = string([]byte{'#', s[1], s[1], s[2], s[2], s[3], s[3]})
	}
	if len(s) != 7 || s[0] != '#' {
		return colour{}, false
	}
	v, err := strconv.ParseUint(s[1:], 16, 32)
	return colour{int(v >> 16), int(v >> 8 & 0xff), int(v & 0xff)}, err == nil
}

// covered reports whether the face has a character: it is in the table of characters, format 4, of the
// regular face (OpenType 1.9, "cmap").
func covered(r rune) bool { return characters()[r] }

var characters = sync.OnceValue(func() map[rune]bool {
	raw, err := faces.ReadFile("faces/paper-400.ttf")
	if err != nil {
		panic(err) // it is in the program
	}
	u16 := func(b []byte, at int) int { return int(binary.BigEndian.Uint16(b[at:])) }
	u32 := func(b []byte, at int) int { return int(binary.BigEndian.Uint32(b[at:])) }
	has := map[rune]bool{}
	for t := range u16(raw, 4) {
		entry := raw[12+16*t:]
		if !bytes.Equal(entry[:4], []byte("cmap")) {
			continue
		}
		cmap := raw[u32(entry, 8):]
		for i := range u16(cmap, 2) {
			sub := cmap[u32(cmap, 8+8*i):]
			if u16(sub, 0) != 4 {
				continue
			}
			n := u16(sub, 6)
			for s := 0; s < n; s += 2 {
				for r := u16(sub, 16+n+s); r <= u16(sub, 14+s) && r != 0xffff; r++ {
					has[rune(r)] = true
				}
			}
		}
	}
	return has
})
