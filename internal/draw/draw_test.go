package draw_test

import (
	"bytes"
	"encoding/xml"
	"image/png"
	"io"
	"os"
	"path/filepath"
	"regexp"
	"strconv"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"grund/internal/draw"
	"grund/internal/procedure"
	"grund/internal/procedure/proctest"
	"grund/internal/working"
)

// Every figure of the demo is drawn in both forms: well-formed, as wide as it says, with the text alternative, and not blank.
func TestEveryFigure(t *testing.T) {
	forms := map[working.Form]bool{}
	for name, p := range proctest.DemoProblems(t) {
		s, err := procedure.Work(t.Context(), p)
		require.NoError(t, err)
		for _, f := range s.Figures {
			if forms[f.Form] && (f.Form != working.Curve || strings.Contains(name, " ")) {
				continue // one of each form is drawn, and a curve of each problem
			}
			forms[f.Form] = true
			text := draw.Figure(f).SVG("1")
			for range 5 {
				assert.Equal(t, text, draw.Figure(f).SVG("1"), "%s: %s is the same however often it is drawn", name, f.ID)
			}
			d := xml.NewDecoder(strings.NewReader(text))
			for {
				if _, err := d.Token(); err != nil {
					require.ErrorIs(t, err, io.EOF, "%s: %s", name, f.ID)
					break
				}
			}
			assert.NotContains(t, text, "NaN", "%s: %s", name, f.ID)
			assert.NotContains(t, text, "Inf", "%s: %s", name, f.ID)
			assert.Contains(t, text, "<title>", "%s: %s", name, f.ID)
			var out bytes.Buffer
			require.NoError(t, draw.Figure(f).PNG(&out, 1))
			picture, err := png.Decode(bytes.NewReader(out.Bytes()))
			require.NoError(t, err, "%s: %s", name, f.ID)
			assert.Equal(t, draw.Width, picture.Bounds().Dx())
			dark := 0
			for x := range picture.Bounds().Dx() {
				for y := range picture.Bounds().Dy() {
					if r, _, _, _ := picture.At(x, y).RGBA(); r < 0x8000 {
						dark++
					}
				}
			}
			assert.Greater(t, dark, 200, "%s: %s", name, f.ID)
			if folder := os.Getenv("GRUND_PICTURES"); folder != "" {
				require.NoError(t, os.WriteFile(filepath.Join(folder, name+"."+f.ID+".png"), out.Bytes(), 0o600))
			}
		}
	}
	for _, form := range []working.Form{working.Curve, working.Boxes, working.Intervals, working.Histogram, working.Bars, working.Scatter,
		working.Mosaic, working.Split} {
		assert.True(t, forms[form], form)
	}
}

// What is solid, outlined and hatched tells the marks apart: the curve of H₀ is a line in the ink of what is expected, its
// region is hatched, the statistic is solid.
func TestTheGrammarOfMarks(t *testing.T) {
	s, err := procedure.Work(t.Context(), proctest.DemoProblems(t)["two-berths"])
	require.NoError(t, err)
	for _, f := range s.Figures {
		if f.ID == "curve" {
			text := draw.Figure(f).SVG("7")
			assert.Equal(t, 2, strings.Count(text, "url(#hatch-7)"), "both tails of the region")
			assert.Contains(t, text, "t = −2.064")
			assert.Contains(t, text, `<circle`)
		}
	}
}

// No label of a rule lies on the curve or on the statistic, whatever alpha is.
func TestLabelsKeepOffTheCurve(t *testing.T) {
	label := regexp.MustCompile(`<text x="([\d.-]+)" y="([\d.-]+)"[^>]*text-anchor="(\w+)"[^>]*>([^<]*)</text>`)
	curve := regexp.MustCompile(`<path d="([^"]*)" fill="none"`)
	number := func(text string) float64 {
		x, err := strconv.ParseFloat(text, 64)
		require.NoError(t, err)
		return x
	}
	for _, alpha := range []float64{0.3, 0.2, 0.1, 0.05, 0.02, 0.01} {
		p := *proctest.DemoProblems(t)["two-berths"]
		p.Alpha = alpha
		s, err := procedure.Work(t.Context(), &p)
		require.NoError(t, err)
		text := draw.Figure(s.Figure("curve")).SVG("1")
		var drawn [][2]float64
		for _, path := range curve.FindAllStringSubmatch(text, -1) {
			for _, point := range strings.Split(strings.NewReplacer("M", "", "L", " ", "Z", "").Replace(path[1]), " ") {
				if x, y, found := strings.Cut(point, ","); found {
					drawn = append(drawn, [2]float64{number(x), number(y)})
				}
			}
		}
		require.Greater(t, len(drawn), 50)
		labels := 0
		for _, m := range label.FindAllStringSubmatch(text, -1) {
			if !strings.Contains(m[4], ".") || strings.Contains(m[4], "t =") {
				continue // a number of the axis, the statistic
			}
			labels++
			long := 6.2 * float64(len([]rune(m[4])))
			left := number(m[1]) - map[string]float64{"start": 0, "middle": long / 2, "end": long}[m[3]]
			for _, point := range drawn {
				on := point[0] > left && point[0] < left+long && point[1] < number(m[2])-1 && point[1] > number(m[2])-9
				assert.False(t, on, "%s at alpha %v lies on the curve at %v", m[4], alpha, point)
			}
		}
		assert.Equal(t, 2, labels, alpha)
	}
}
