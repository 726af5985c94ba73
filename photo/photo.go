// Package photo makes pictures of the work fit to be kept: decoded, turned as they were held, made smaller, and encoded
// anew, so that nothing stays in them but what is seen. Where it was taken, when, and with what is left behind.
package photo

import (
	"bytes"
	"encoding/binary"
	"errors"
	"fmt"
	"image"
	"image/color"
	"image/jpeg"
	_ "image/png" // is read as well

	"golang.org/x/image/draw"
)

// Bounds of a picture: of what is taken in, and of what is kept.
const (
	MostBytes  = 16 << 20   // of a file, as phones make them
	mostPixels = 50_000_000 // of a picture, before it is decoded: four bytes each
	longest    = 1280       // side, in pixels, of what is kept
	MostKept   = 150 << 10  // bytes of what is kept
)

// Kept is a picture as it is kept.
type Kept struct {
	Width, Height int
	JPEG          []byte
}

// Errors that a person is told.
var (
	ErrKind  = errors.New("this is no photo that can be read: JPEG and PNG work")
	ErrLarge = errors.New("this photo is too large: up to 16 MB, and 50 million pixels")
)

// Take reads a JPEG or PNG and gives it back encoded anew.
func Take(raw []byte) (Kept, error) {
	if len(raw) > MostBytes {
		return Kept{}, ErrLarge
	}
	head, kind, err := image.DecodeConfig(bytes.NewReader(raw))
	if err != nil || kind != "jpeg" && kind != "png" {
		return Kept{}, ErrKind
	}
	if head.Width <= 0 || head.Height <= 0 || head.Width > mostPixels/head.Height {
		return Kept{}, ErrLarge
	}
	img, _, err := image.Decode(bytes.NewReader(raw))
	if err != nil {
		return Kept{}, ErrKind
	}
	for side, quality := longest, 82; ; {
		small := upright(shrunk(img, side), held(raw))
		var b bytes.Buffer
		if err := jpeg.Encode(&b, small, &jpeg.Options{Quality: quality}); err != nil {
			return Kept{}, fmt.Errorf("photo: %w", err)
		}
		if b.Len() <= MostKept {
			return Kept{small.Bounds().Dx(), small.Bounds().Dy(), b.Bytes()}, nil
		}
		if quality > 60 {
			quality -= 10
		} else {
			side = side * 4 / 5
		}
	}
}

// shrunk is a picture whose longer side is at most so long, on white where it lets through.
func shrunk(img image.Image, side int) *image.RGBA {
	w, h := img.Bounds().Dx(), img.Bounds().Dy()
	if m := max(w, h); m > side {
		w, h = max(1, w*side/m), max(1, h*side/m)
	}
	out := image.NewRGBA(image.Rect(0, 0, w, h))
	draw.Draw(out, out.Bounds(), image.NewUniform(color.White), image.Point{}, draw.Src)
	draw.ApproxBiLinear.Scale(out, out.Bounds(), img, img.Bounds(), draw.Over, nil)
	return out
}

// upright turns a picture as its camera says that it was held: 1 to 8 (TIFF 6.0, Orientation).
func upright(img *image.RGBA, way int) *image.RGBA {
	if way < 2 || way > 8 {
		return img
	}
	w, h := img.Bounds().Dx(), img.Bounds().Dy()
	tw, th := w, h
	if way >= 5 {
		tw, th = h, w
	}
	out := image.NewRGBA(image.Rect(0, 0, tw, th))
	for y := range h {
		for x := range w {
			tx, ty := x, y
			switch way {
			case 2:
				tx = w - 1 - x
			case 3:
				tx, ty = w-1-x, h-1-y
			case 4:
				ty = h - 1 - y
			case 5:
				tx, ty = y, x
			case 6:
				tx, ty = h-1-y, x
			case 7:
				tx, ty = h-1-y, w-1-x
			case 8:
				tx, ty = y, w-1-x
			}
			out.SetRGBA(tx, ty, img.RGBAAt(x, y))
		}
	}
	return out
}

// held reads how a camera was held from a JPEG's Exif (CIPA DC-008, 4.6.4): 1 where nothing says so.
func held(raw []byte) int {
	for at := 2; at+4 <= len(raw) && raw[at] == 0xff; {
		kind, size := raw[at+1], int(binary.BigEndian.Uint16(raw[at+2:]))
		if kind == 0xda || size < 2 || at+2+size > len(raw) {
			return 1
		}
		if part := raw[at+4 : at+2+size]; kind == 0xe1 && bytes.HasPrefix(part, []byte("Exif\x00\x00")) {
			return orientation(part[6:])
		}
		at += 2 + size
	}
	return 1
}

// orientation reads tag 0x0112 of the first directory of a TIFF.
func orientation(tiff []byte) int {
	if len(tiff) < 8 {
		return 1
	}
	var order binary.ByteOrder = binary.LittleEndian
	if tiff[0] == 'M' {
		order = binary.BigEndian
	}
	first := int64(order.Uint32(tiff[4:]))
	if first+2 > int64(len(tiff)) {
		return 1
	}
	for i := range int64(order.Uint16(tiff[first:])) {
		at := first + 2 + 12*i
		if at+12 > int64(len(tiff)) {
			return 1
		}
		if order.Uint16(tiff[at:]) == 0x0112 {
			return int(order.Uint16(tiff[at+8:]))
		}
	}
	return 1
}
