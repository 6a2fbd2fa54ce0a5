package photo

import (
	"bytes"
	"encoding/binary"
	"errors"
	"hash/crc32"
	"image"
	"image/color"
	"image/gif"
	"image/jpeg"
	"image/png"
	"os"
	"regexp"
	"runtime/debug"
	"strconv"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func why(t *testing.T, raw []byte) string {
	t.Helper()
	_, _, err := Keep(raw)
	var r *Refused
	require.True(t, errors.As(err, &r), "%v", err)
	return r.Why
}

// striped has rows that tell where they come from: red at its top, blue at its foot,
// and white at its left edge.
func striped(w, h int) *image.RGBA {
	img := image.NewRGBA(image.Rect(0, 0, w, h))
	for y := range h {
		for x := range w {
			c := color.RGBA{uint8(255 - 255*y/h), 0, uint8(255 * y / h), 255}
			if x < w/8 {
				c = color.RGBA{255, 255, 255, 255}
			}
			img.SetRGBA(x, y, c)
		}
	}
	return img
}

func jpegOf(t *testing.T, img image.Image) []byte {
	t.Helper()
	var out bytes.Buffer
	require.NoError(t, jpeg.Encode(&out, img, nil))
	return out.Bytes()
}

// noted is a JPEG with a camera's note of how it lay.
func noted(raw []byte, orientation byte) []byte {
	note := []byte(
		"\xff\xe1\x00\x22Exif\x00\x00MM\x00\x2a\x00\x00\x00\x08\x00\x01\x01\x12\x00\x03\x00\x00\x00\x01\x00\x00\x00\x00\x00\x00\x00\x00",
	)
	note[29] = orientation
	return append(append([]byte("\xff\xd8"), note...), raw[2:]...)
}

func seen(t *testing.T, raw []byte) image.Image {
	t.Helper()
	kept, size, err := Keep(raw)
	require.NoError(t, err)
	img, err := jpeg.Decode(bytes.NewReader(kept))
	require.NoError(t, err)
	assert.Equal(t, size, img.Bounds().Size())
	return img
}

func TestAPictureIsKeptSmallAndTheSame(t *testing.T) {
	img := seen(t, jpegOf(t, striped(3200, 2400)))
	assert.Equal(t, image.Pt(1600, 1200), img.Bounds().Size())
	for y := 5; y < 1200; y += 7 { // no seam between strips
		r, _, b, _ := img.At(900, y).RGBA()
		assert.InDelta(t, 255-255*y/1200, int(r>>8), 8, "row %d", y)
		assert.InDelta(t, 255*y/1200, int(b>>8), 8, "row %d", y)
	}
	assert.Equal(t, image.Pt(300, 200), seen(t, jpegOf(t, striped(300, 200))).Bounds().Size(), "a small one stays as it is")
	assert.Equal(t, image.Pt(1600, 1), seen(t, jpegOf(t, striped(8000, 2))).Bounds().Size())
}

// Whichever way the camera lay, the white edge is where it belongs: left, right, top or
// bottom, by the definition of the note.
func TestAPictureIsTurnedAsTheCameraLay(t *testing.T) {
	raw := jpegOf(t, striped(160, 80))
	for orientation, want := range map[byte]struct {
		size  image.Point
		white image.Point // somewhere on the white edge
		red   image.Point // somewhere at what was the top
	}{
		1: {image.Pt(160, 80), image.Pt(4, 40), image.Pt(100, 4)}, 2: {image.Pt(160, 80), image.Pt(155, 40), image.Pt(60, 4)},
		3: {image.Pt(160, 80), image.Pt(155, 40), image.Pt(60, 75)}, 4: {image.Pt(160, 80), image.Pt(4, 40), image.Pt(100, 75)},
		5: {image.Pt(80, 160), image.Pt(40, 4), image.Pt(4, 100)}, 6: {image.Pt(80, 160), image.Pt(40, 4), image.Pt(75, 100)},
		7: {image.Pt(80, 160), image.Pt(40, 155), image.Pt(75, 60)}, 8: {image.Pt(80, 160), image.Pt(40, 155), image.Pt(4, 60)},
	} {
		img := seen(t, noted(raw, orientation))
		assert.Equal(t, want.size, img.Bounds().Size(), "%d", orientation)
		_, g, _, _ := img.At(want.white.X, want.white.Y).RGBA()
		assert.Greater(t, g>>8, uint32(200), "orientation %d: white at %v", orientation, want.white)
		r, g, b, _ := img.At(want.red.X, want.red.Y).RGBA()
		assert.True(t, r>>8 > 180 && g>>8 < 80 && b>>8 < 80, "orientation %d: red at %v", orientation, want.red)
	}
	kept, _, err := Keep(noted(raw, 6))
	require.NoError(t, err)
	assert.NotContains(t, string(kept), "Exif")
	assert.Equal(t, image.Pt(160, 80), seen(t, noted(raw, 99)).Bounds().Size(), "a note that makes no sense turns nothing")
}

// claims is the beginning of a PNG that says it has such sides and depth.
func claims(w, h uint32, depth, kind byte) []byte {
	head := append([]byte("IHDR"), binary.BigEndian.AppendUint32(binary.BigEndian.AppendUint32(nil, w), h)...)
	head = append(head, depth, kind, 0, 0, 0)
	out := append([]byte("\x89PNG\r\n\x1a\n"), 0, 0, 0, 13)
	return binary.BigEndian.AppendUint32(append(out, head...), crc32.ChecksumIEEE(head))
}

func TestWhatIsTooMuchIsRefusedBeforeItIsRead(t *testing.T) {
	for _, c := range []struct{ w, h uint32 }{{59_000_000, 1}, {1, 59_000_000}, {16_001, 10}, {15_000, 15_000}, {8_000, 8_000}} {
		assert.Contains(t, why(t, claims(c.w, c.h, 8, 6)), "make it smaller first", "%v", c)
	}
	assert.Contains(t, why(t, claims(4000, 3000, 16, 6)), "too large", "sixteen bits a colour are twice as much")
	assert.Contains(t, why(t, claims(4000, 3000, 8, 6)), "damaged", "that many pixels were fine")
	var moving bytes.Buffer
	frame := image.NewPaletted(image.Rect(0, 0, 9, 9), color.Palette{color.Black, color.White})
	require.NoError(t, gif.EncodeAll(&moving, &gif.GIF{Image: []*image.Paletted{frame, frame}, Delay: []int{1, 1}}))
	for _, raw := range [][]byte{nil, []byte("soap"), moving.Bytes(), []byte("GIF89a")} {
		assert.Contains(t, why(t, raw), "JPEG, PNG or WebP")
	}
	assert.Contains(t, why(t, make([]byte, MostBytes+1)), "20 MB")
	raw := jpegOf(t, striped(400, 300))
	assert.Contains(t, why(t, raw[:len(raw)/2]), "damaged")
}

// A progressive picture takes five times what another does.
func TestTheMemoryOfAJPEGIsKnownFromItsHeader(t *testing.T) {
	raw := jpegOf(t, striped(64, 64))
	assert.InDelta(t, 1.5, jpegBytes(raw), 1e-9, "four samples of light, one of each colour")
	progressive := bytes.Replace(raw, []byte{0xff, 0xc0}, []byte{0xff, 0xc2}, 1)
	assert.InDelta(t, 7.5, jpegBytes(progressive), 1e-9)
	assert.InDelta(t, 15, jpegBytes(raw[:20]), 1e-9, "the worst, where it cannot be known")
}

// The largest that is taken stays within the memory of a small machine.
func TestTheLargestPictureFitsIntoASmallMachine(t *testing.T) {
	status := func(what string) int {
		text, err := os.ReadFile("/proc/self/status")
		if err != nil {
			t.Skip("this machine does not tell")
		}
		kb, err := strconv.Atoi(string(regexp.MustCompile(what + `:\s+(\d+)`).FindSubmatch(text)[1]))
		require.NoError(t, err)
		return kb >> 10
	}
	raw := jpegOf(t, image.NewYCbCr(image.Rect(0, 0, 8000, 6000), image.YCbCrSubsampleRatio420))
	debug.FreeOSMemory()
	if os.WriteFile("/proc/self/clear_refs", []byte("5"), 0o600) != nil { // the peak is counted anew
		t.Skip("this machine does not count anew")
	}
	_, _, err := Keep(raw)
	require.NoError(t, err, "48 megapixels")
	assert.Less(t, status("VmHWM"), 200, "megabytes at the most")
}

func FuzzAPictureIsKeptOrRefused(f *testing.F) {
	f.Add(noted(jpegOf(&testing.T{}, striped(20, 10)), 6))
	var out bytes.Buffer
	if err := png.Encode(&out, striped(20, 10)); err != nil {
		f.Fatal(err)
	}
	f.Add(out.Bytes())
	f.Add(claims(5, 5, 8, 3))
	f.Add([]byte("RIFF\x1a\x00\x00\x00WEBPVP8L\x0d\x00\x00\x00\x2f\x00\x00\x00\x10\x07\x10\x11\x11\x88\x88\xfe\x07\x00"))
	f.Fuzz(func(t *testing.T, raw []byte) {
		kept, size, err := Keep(raw)
		var r *Refused
		if err != nil && !errors.As(err, &r) {
			t.Fatalf("neither kept nor refused: %v", err)
		}
		if err == nil && (len(kept) == 0 || size.X < 1 || size.Y < 1 || max(size.X, size.Y) > Side) {
			t.Fatalf("kept as %v", size)
		}
	})
}
