// Package photo makes a picture fit to be kept: upright, small, and freed of what the
// camera noted of place and owner.
//
// A picture comes from anywhere, and a small file can hold one that would fill the
// memory of the machine. So its kind, its sides and what it will take are looked at
// before it is read, one is read at a time, and it is made small strip by strip.
package photo

import (
	"bytes"
	"encoding/binary"
	"fmt"
	"image"
	"image/color"
	"image/jpeg"
	_ "image/png" // what screenshots and some cameras give
	"math"
	"runtime/debug"
	"sync"

	"github.com/bep/imagemeta"
	"golang.org/x/image/draw"
	_ "golang.org/x/image/webp" // what some phones give
)

// Limits of a picture as it comes: its bytes, its longer side, and the memory that
// reading it takes. A photo of 48 megapixels as cameras write it stays below.
const (
	MostBytes  = 20 << 20
	mostSide   = 16_000
	mostMemory = 150 << 20
)

// How it is kept.
const (
	Side    = 1600 // pixels of the longer side, at most
	quality = 85
)

// Refused says in words why a picture is not taken.
type Refused struct{ Why string }

func (r *Refused) Error() string { return r.Why }

func refused(format string, args ...any) error { return &Refused{fmt.Sprintf(format, args...)} }

// formats are the kinds that are read, by the names their decoders go by.
var formats = map[string]imagemeta.ImageFormat{"jpeg": imagemeta.JPEG, "png": imagemeta.PNG, "webp": imagemeta.WebP}

// one picture is read at a time.
var one sync.Mutex

// Keep reads a picture and writes it anew, as JPEG. A picture that is not taken is
// [*Refused].
func Keep(raw []byte) (kept []byte, size image.Point, err error) {
	if len(raw) > MostBytes {
		return nil, size, refused("the picture has more than %d MB", MostBytes>>20)
	}
	config, format, err := image.DecodeConfig(bytes.NewReader(raw))
	if _, known := formats[format]; err != nil || !known {
		return nil, size, refused("choose a picture: JPEG, PNG or WebP")
	}
	if max(config.Width, config.Height) > mostSide || memory(raw, format, config) > mostMemory {
		return nil, size, refused(
			"the picture of %d × %d pixels is too large to be read; take it at 12 megapixels, or make it smaller first",
			config.Width,
			config.Height,
		)
	}
	one.Lock()
	defer one.Unlock()
	defer debug.SetGCPercent(debug.SetGCPercent(20)) // it is much, and only for a moment
	defer debug.FreeOSMemory()
	img, _, err := image.Decode(bytes.NewReader(raw))
	if err != nil {
		return nil, size, refused("this picture cannot be read; it may be damaged")
	}
	upright := turned(shrunk(img), orientation(raw, format))
	var out bytes.Buffer
	if err := jpeg.Encode(&out, upright, &jpeg.Options{Quality: quality}); err != nil {
		return nil, size, fmt.Errorf("write photo: %w", err)
	}
	return out.Bytes(), upright.Bounds().Size(), nil
}

// memory is how many bytes reading a picture takes, at most.
func memory(raw []byte, format string, c image.Config) int {
	area := c.Width * c.Height
	switch format {
	case "jpeg":
		return int(math.Ceil(float64(area) * jpegBytes(raw)))
	case "webp":
		return area * 8 // the pixels, and what they are worked out from
	}
	each := 4
	switch c.ColorModel {
	case color.GrayModel:
		each = 1
	case color.Gray16Model:
		each = 2
	case color.NRGBA64Model, color.RGBA64Model:
		each = 8
	}
	if _, indexed := c.ColorModel.(color.Palette); indexed {
		each = 1
	}
	return area * each * 2 // one that is woven is read in parts beside the whole
}

// jpegBytes is how many bytes a pixel of a JPEG takes to read. A progressive one keeps
// all its coefficients, of four bytes, until its end. By ITU-T T.81, B.2.2: the frame
// header says the kind, and of each component how often it is sampled.
func jpegBytes(raw []byte) float64 {
	const coefficient = 4
	for i := 2; i+4 <= len(raw) && raw[i] == 0xff; {
		marker, length := raw[i+1], int(binary.BigEndian.Uint16(raw[i+2:]))
		if marker == 0xff { // a fill byte
			i++
			continue
		}
		frame := marker >= 0xc0 && marker <= 0xcf && marker != 0xc4 && marker != 0xc8 && marker != 0xcc
		if !frame {
			i += 2 + length
			continue
		}
		if i+10 > len(raw) {
			break
		}
		components := int(raw[i+9])
		most, sum := 1, 0
		for c := range components {
			at := i + 10 + 3*c + 1
			if at >= len(raw) {
				break
			}
			samples := max(1, int(raw[at]>>4)*int(raw[at]&15))
			most, sum = max(most, samples), sum+samples
		}
		each := float64(sum) / float64(most)
		if marker != 0xc0 && marker != 0xc1 {
			each += coefficient * each
		}
		return each
	}
	return 3 + 3*coefficient
}

// orientation is how the camera lay, from 1 (upright) to 8, by its own note; 1 where
// it says nothing that can be read.
func orientation(raw []byte, format string) int {
	out := 1
	_, _ = imagemeta.Decode(imagemeta.Options{ // a damaged note turns nothing
		R: bytes.NewReader(raw), ImageFormat: formats[format], Sources: imagemeta.EXIF,
		ShouldHandleTag: func(t imagemeta.TagInfo) bool { return t.Tag == "Orientation" && t.Namespace == "IFD0" },
		HandleTag: func(t imagemeta.TagInfo) error {
			if n, ok := t.Value.(uint16); ok && n >= 1 && n <= 8 {
				out = int(n)
			}
			return nil
		},
		Warnf: func(string, ...any) {},
	})
	return out
}

// Strips of so many rows are made smaller at a time, with a few rows around them, so
// that no seam shows.
const strip, around = 64, 4

// shrunk is a picture no longer than [Side].
func shrunk(img image.Image) *image.RGBA {
	from := img.Bounds()
	w, h := from.Dx(), from.Dy()
	scale := math.Min(1, float64(Side)/float64(max(w, h)))
	to := image.Rect(0, 0, max(1, int(math.Round(float64(w)*scale))), max(1, int(math.Round(float64(h)*scale))))
	out := image.NewRGBA(to)
	draw.Draw(out, to, image.White, image.Point{}, draw.Src) // what can be seen through
	if scale == 1 {
		draw.Draw(out, to, img, from.Min, draw.Over)
		return out
	}
	row := func(y int) int { return from.Min.Y + int(math.Round(float64(y)*float64(h)/float64(to.Dy()))) }
	for top := 0; top < to.Dy(); top += strip {
		bottom := min(top+strip, to.Dy())
		above, below := max(0, top-around), min(to.Dy(), bottom+around)
		part := image.NewRGBA(image.Rect(0, above, to.Dx(), below))
		draw.Draw(part, part.Rect, image.White, image.Point{}, draw.Src)
		draw.BiLinear.Scale(
			part,
			part.Rect,
			img,
			image.Rect(from.Min.X, row(above), from.Max.X, max(row(above)+1, row(below))),
			draw.Over,
			nil,
		)
		draw.Draw(out, image.Rect(0, top, to.Dx(), bottom), part, image.Pt(0, top), draw.Src)
	}
	return out
}

// turned is a picture as it is seen upright. By Exif 2.32, 4.6.4: 2 to 4 are mirrored
// or upside down, 5 to 8 lie on a side.
func turned(img *image.RGBA, orientation int) *image.RGBA {
	w, h := img.Rect.Dx(), img.Rect.Dy()
	if orientation >= 5 {
		w, h = h, w
	}
	if orientation == 1 {
		return img
	}
	out := image.NewRGBA(image.Rect(0, 0, w, h))
	for y := range h {
		for x := range w {
			fx, fy := x, y
			switch orientation {
			case 2:
				fx = w - 1 - x
			case 3:
				fx, fy = w-1-x, h-1-y
			case 4:
				fy = h - 1 - y
			case 5:
				fx, fy = y, x
			case 6:
				fx, fy = y, w-1-x
			case 7:
				fx, fy = h-1-y, w-1-x
			case 8:
				fx, fy = h-1-y, x
			}
			out.SetRGBA(x, y, img.RGBAAt(fx, fy))
		}
	}
	return out
}
