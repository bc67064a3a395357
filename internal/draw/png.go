package draw

import (
	"fmt"
	"image/color"
	"io"
	"math"
	"strconv"
	"sync"

	"github.com/fogleman/gg"
	"github.com/golang/freetype/truetype"
	"golang.org/x/image/font"
	"golang.org/x/image/font/gofont/gobold"
	"golang.org/x/image/font/gofont/goregular"
)

// The fonts of pictures in pixels.
var fonts = sync.OnceValues(func() (map[bool]*truetype.Font, error) {
	regular, err := truetype.Parse(goregular.TTF)
	if err != nil {
		return nil, fmt.Errorf("reading a font: %w", err)
	}
	bold, err := truetype.Parse(gobold.TTF)
	return map[bool]*truetype.Font{false: regular, true: bold}, err
})

// PNG writes the picture in pixels, so many for each unit.
func (c *Picture) PNG(out io.Writer, scale float64) error {
	known, err := fonts()
	if err != nil {
		return err
	}
	dc := gg.NewContext(int(math.Ceil(c.Width*scale)), int(math.Ceil(c.Height*scale)))
	dc.SetColor(color.White)
	dc.Clear()
	for _, s := range c.shapes {
		s.paint(dc, scale, known)
	}
	if err := dc.EncodePNG(out); err != nil {
		return fmt.Errorf("writing a picture: %w", err)
	}
	return nil
}

// paint draws a shape in pixels.
func (s *shape) paint(dc *gg.Context, scale float64, known map[bool]*truetype.Font) {
	if s.words != "" {
		size := s.size
		if size == 0 {
			size = 12
		}
		dc.SetFontFace(truetype.NewFace(known[s.bold], &truetype.Options{Size: size * scale, Hinting: font.HintingNone}))
		dc.SetColor(colorOf(ink, 1))
		along := map[string]float64{"start": 0, "middle": 0.5, "end": 1}[s.anchor]
		dc.DrawStringAnchored(s.words, s.xs[0]*scale, s.ys[0]*scale, along, 0)
		return
	}
	if s.radius > 0 {
		dc.DrawCircle(s.xs[0]*scale, s.ys[0]*scale, s.radius*scale)
	}
	for i := range s.xs {
		if s.radius == 0 {
			dc.LineTo(s.xs[i]*scale, s.ys[i]*scale)
		}
	}
	if s.closed {
		dc.ClosePath()
	}
	opacity := s.opacity
	if opacity == 0 {
		opacity = 1
	}
	switch s.fill {
	case none:
	case hatched:
		dc.Push()
		dc.ClipPreserve()
		s.hatch(dc, scale)
		dc.Pop()
	default:
		dc.SetColor(colorOf(s.fill, opacity))
		dc.FillPreserve()
	}
	if s.stroke != none {
		dc.SetColor(colorOf(s.stroke, 1))
		dc.SetLineWidth(math.Max(s.width, 1) * scale)
		if s.dashed {
			dc.SetDash(5*scale, 4*scale)
		} else {
			dc.SetDash()
		}
		dc.StrokePreserve()
	}
	dc.ClearPath()
}

// hatch draws slanting lines over the part that is clipped.
func (s *shape) hatch(dc *gg.Context, scale float64) {
	dc.ClearPath()
	dc.SetColor(colorOf(region, 1))
	dc.SetLineWidth(1.4 * scale)
	for x := -dc.Height(); x < dc.Width(); x += int(math.Max(3, 5*math.Sqrt2*scale)) {
		dc.DrawLine(float64(x), float64(dc.Height()), float64(x+dc.Height()), 0)
	}
	dc.Stroke()
	dc.ResetClip()
}

// colorOf reads #rrggbb.
func colorOf(text string, opacity float64) color.Color {
	rgb, err := strconv.ParseUint(text[1:], 16, 32)
	if err != nil {
		return color.Black
	}
	return color.NRGBA{uint8(rgb >> 16), uint8(rgb >> 8), uint8(rgb), uint8(math.Round(255 * opacity))}
}
