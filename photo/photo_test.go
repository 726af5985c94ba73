package photo

import (
	"bytes"
	"encoding/binary"
	"image"
	"image/color"
	"image/jpeg"
	"image/png"
	"math/rand/v2"
	"strings"
	"testing"
)

// shot is a photo: its left upper quarter red, the rest blue, as a JPEG with an Exif that says how the camera was held
// and where it was.
func shot(t *testing.T, w, h, way int) []byte {
	t.Helper()
	img := image.NewRGBA(image.Rect(0, 0, w, h))
	for y := range h {
		for x := range w {
			c := color.RGBA{20, 20, 220, 255}
			if x < w/2 && y < h/2 {
				c = color.RGBA{220, 20, 20, 255}
			}
			img.SetRGBA(x, y, c)
		}
	}
	var b bytes.Buffer
	if err := jpeg.Encode(&b, img, nil); err != nil {
		t.Fatal(err)
	}
	raw := b.Bytes()
	tiff := []byte("MM\x00\x2a\x00\x00\x00\x08\x00\x02")
	entry := func(tag, kind uint16, n, value uint32) {
		tiff = binary.BigEndian.AppendUint16(tiff, tag)
		tiff = binary.BigEndian.AppendUint16(tiff, kind)
		tiff = binary.BigEndian.AppendUint32(tiff, n)
		tiff = binary.BigEndian.AppendUint32(tiff, value)
	}
	entry(0x0112, 3, 1, uint32(way)<<16)
	entry(0x8825, 4, 1, 200) // where the GPS directory would be
	tiff = append(tiff, []byte("51 deg 28 min N, by the lane")...)
	exif := append([]byte("Exif\x00\x00"), tiff...)
	part := binary.BigEndian.AppendUint16([]byte{0xff, 0xe1}, uint16(len(exif)+2))
	return append(append(append([]byte{}, raw[:2]...), append(part, exif...)...), raw[2:]...)
}

// However the camera was held, what was up is up: the red quarter comes to the place that TIFF 6.0's Orientation names
// for it; the place and everything else that was written into the file is gone, and the picture is no larger than it
// may be.
func TestTake(t *testing.T) {
	corners := map[int][2]int{1: {0, 0}, 2: {1, 0}, 3: {1, 1}, 4: {0, 1}, 5: {0, 0}, 6: {1, 0}, 7: {1, 1}, 8: {0, 1},
		0: {0, 0}, 99: {0, 0}}
	for way, corner := range corners {
		raw := shot(t, 1600, 1000, way)
		if !bytes.Contains(raw, []byte("by the lane")) {
			t.Fatal("the photo does not say where it was taken")
		}
		k, err := Take(raw)
		if err != nil {
			t.Fatal(err)
		}
		w, h := 1280, 800
		if way >= 5 && way <= 8 {
			w, h = 800, 1280
		}
		if k.Width != w || k.Height != h || len(k.JPEG) > MostKept {
			t.Errorf("held %d: %d by %d, %d bytes", way, k.Width, k.Height, len(k.JPEG))
		}
		if bytes.Contains(k.JPEG, []byte("Exif")) || bytes.Contains(k.JPEG, []byte("by the lane")) {
			t.Errorf("held %d: it still says where it was taken", way)
		}
		img, err := jpeg.Decode(bytes.NewReader(k.JPEG))
		if err != nil {
			t.Fatal(err)
		}
		for y := range 2 {
			for x := range 2 {
				r, _, b, _ := img.At(w/4+x*w/2, h/4+y*h/2).RGBA()
				if red := r > b; red != (corner == [2]int{x, y}) {
					t.Errorf("held %d: quarter %d, %d is red: %v", way, x, y, red)
				}
			}
		}
	}
}

// Noise is the worst to make small, and is made small; a PNG that lets through is white there; what is no photo, or has
// more dots than fit, is refused without being decoded.
func TestTakeBounds(t *testing.T) {
	noise := image.NewRGBA(image.Rect(0, 0, 2000, 1500))
	random := rand.New(rand.NewPCG(1, 2))
	for i := range noise.Pix {
		noise.Pix[i] = byte(random.Uint32())
	}
	var b bytes.Buffer
	if err := jpeg.Encode(&b, noise, &jpeg.Options{Quality: 95}); err != nil {
		t.Fatal(err)
	}
	if k, err := Take(b.Bytes()); err != nil || len(k.JPEG) > MostKept || k.Width < 200 {
		t.Errorf("noise becomes %d by %d, %d bytes: %v", k.Width, k.Height, len(k.JPEG), err)
	}
	b.Reset()
	if err := png.Encode(&b, image.NewNRGBA(image.Rect(0, 0, 30, 20))); err != nil {
		t.Fatal(err)
	}
	clear := b.Bytes()
	k, err := Take(clear)
	if err != nil {
		t.Fatal(err)
	}
	if img, err := jpeg.Decode(bytes.NewReader(k.JPEG)); err != nil || k.Width != 30 {
		t.Errorf("%v, %d wide", err, k.Width)
	} else if r, _, _, _ := img.At(9, 9).RGBA(); r < 0xf000 {
		t.Error("what lets through is not white")
	}
	huge := append([]byte{}, clear...)
	binary.BigEndian.PutUint32(huge[16:], 60_000)
	binary.BigEndian.PutUint32(huge[20:], 60_000)
	bomb := shot(t, 16, 16, 1)
	for name, x := range map[string]struct {
		raw  []byte
		want string
	}{"nothing": {nil, "JPEG and PNG"}, "words": {[]byte("a photo"), "JPEG and PNG"}, "half": {bomb[:len(bomb)/2], ""},
		"a GIF": {[]byte("GIF89a\x01\x00\x01\x00\x00\x00\x00;"), "JPEG and PNG"}, "huge": {huge, ""},
		"too long": {make([]byte, MostBytes+1), "16 MB"}} {
		if _, err := Take(x.raw); err == nil || !strings.Contains(err.Error(), x.want) {
			t.Errorf("%s: %v", name, err)
		}
	}
	for n := range 400 { // spoilt at any place it is refused or taken, and never more
		raw := append([]byte{}, bomb...)
		raw[n%len(raw)] ^= byte(1 + n)
		_, _ = Take(raw)
	}
}
