package draw

import (
	"fmt"
	"strings"

	"ashshelf/soap/recipe"
	"ashshelf/soap/unit"
)

// The soap as it is poured: a cut through the mold, the first layer lowest.
const (
	designW, designH   = 440.0, 190.0
	designX, designTop = 12.0, 34.0
	soapW, soapH       = 250.0, 140.0
	wave               = 7.0 // height of a swirl or of a textured top
	waves              = 6   // across the soap
	labelSize          = 16  // reads at 9 pt and more where the picture is half a page wide
)

// OfDesign draws the look of a recipe. Layers have the height of their share of
// the batter; a swirl makes the layers poured before it run into each other.
func OfDesign(f recipe.Formula) Picture { return designUpTo(f, len(f.DesignSteps())) }

// designUpTo draws what the first steps of the design have come to.
func designUpTo(f recipe.Formula, done int) Picture {
	p := Picture{W: designW, H: designH}
	type layer struct {
		tone  recipe.Tone
		name  string
		share float64
		top   float64 // y of its top edge
		wavy  bool
		drops []recipe.Tone // that were dropped into its pot
	}
	var layers []layer
	var dividers, sprinkled, textured, scraps bool
	var drizzles []recipe.Tone
	pours := f.Pours()
	next := 0
	for _, s := range f.DesignSteps()[:done] {
		switch s.Do {
		case recipe.Layer, recipe.Reserve:
			one := pours[next]
			layers = append(layers, layer{tone: one.Tone, name: s.Portion, share: one.Share, drops: one.Dropped})
			next++
		case recipe.Drizzle:
			drizzles = append(drizzles, pours[next].Tone)
			next++
		case recipe.Swirl:
			for i := range layers {
				layers[i].wavy = true
			}
		case recipe.Dividers:
			dividers = true
		case recipe.Sprinkle:
			sprinkled = true
		case recipe.Texture:
			textured = true
		case recipe.ScrapLay:
			scraps = true
		}
	}
	floor := designTop + soapH
	y := floor
	for i := range layers {
		y -= layers[i].share * soapH
		layers[i].top = y
	}
	for i := len(layers) - 1; i >= 0; i-- {
		l := layers[i]
		amplitude := 0.0
		if l.wavy || textured && i == len(layers)-1 {
			amplitude = wave
		}
		p.path(
			"tone tone-"+toneClass(l.tone),
			edge(l.top, amplitude, i)+fmt.Sprintf("L%.1f %.1fL%.1f %.1fZ", designX+soapW, floor, designX, floor),
		)
	}
	for i, l := range layers {
		below := floor
		if i > 0 {
			below = layers[i-1].top
		}
		for k, tone := range l.drops { // veins through the layer
			at := l.top + (below-l.top)*float64(k+1)/float64(len(l.drops)+1)
			p.path("drizzle drizzle-"+toneClass(tone), edge(at, min(wave, (below-l.top)/4), k+i))
		}
	}
	if scraps {
		for i := range 14 {
			x, dy := designX+14+float64(i%7)*34+float64(i/7)*16, float64(i/7)*22
			p.path("tone tone-earth", fmt.Sprintf("M%.1f %.1fl9 5l-6 8l-9 -6Z", x, floor-soapH*0.45-dy))
		}
	}
	if dividers {
		for i := 1; i < 6; i++ {
			x := designX + soapW*float64(i)/6
			p.line("ln-dash", x, y-8, x, floor)
		}
	}
	for i, tone := range drizzles {
		at := y - 3 - float64(i)*5
		p.path("drizzle drizzle-"+toneClass(tone), edge(at, wave*0.8, i+1))
	}
	if sprinkled {
		for i := range 24 {
			p.circle("dot", designX+8+float64(i)*10.2, y-7-float64(i*7%11)*0.7, 1.8)
		}
	}
	p.path("ln", fmt.Sprintf("M%.1f %.1fV%.1fH%.1fV%.1f", designX-4, designTop-14, floor+3, designX+soapW+4, designTop-14))
	last := designH + 20
	for i := range layers { // labels, from the bottom, never on top of each other
		l := layers[i]
		below := floor
		if i > 0 {
			below = layers[i-1].top
		}
		ly := min((l.top+below)/2+5, last-17)
		last = ly
		name := l.name
		if name == "" {
			name = "the batter"
		}
		p.line("ln-fine", designX+soapW+8, (l.top+below)/2, designX+soapW+20, ly-5)
		p.text("", designX+soapW+24, ly, labelSize, "start", fmt.Sprintf("%s %s %%", short(name, 14), unit.Trim(l.share*100, 0)))
	}
	words := make([]string, 0, len(f.Design))
	for _, s := range f.DesignSteps()[:done] {
		words = append(words, s.Words())
	}
	p.Title = "The soap as poured: " + strings.Join(words, "; ")
	return p
}

func toneClass(t recipe.Tone) string {
	if t == "" {
		return "plain"
	}
	return string(t)
}

// edge is the top edge of a layer from left to right, straight or in waves.
func edge(y, amplitude float64, phase int) string {
	if amplitude == 0 {
		return fmt.Sprintf("M%.1f %.1fH%.1f", designX, y, designX+soapW)
	}
	var b strings.Builder
	fmt.Fprintf(&b, "M%.1f %.1f", designX, y)
	step := soapW / waves
	for i := range waves {
		up := amplitude * 2
		if (i+phase)%2 == 0 {
			up = -up
		}
		x := designX + float64(i)*step
		fmt.Fprintf(&b, "Q%.1f %.1f %.1f %.1f", x+step/2, y+up, x+step, y)
	}
	return b.String()
}
