package e2e

import (
	"math"
	"testing"

	"github.com/go-rod/rod/lib/input"
	"github.com/go-rod/rod/lib/proto"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// stroke draws with the mouse from one place to another, in a wave.
func (p *tab) stroke(x1, y1, x2, y2 float64) {
	p.t.Helper()
	mouse := p.Mouse
	require.NoError(p.t, mouse.MoveTo(proto.NewPoint(x1, y1)))
	require.NoError(p.t, mouse.Down(proto.InputMouseButtonLeft, 1))
	for i := 1.0; i <= 12; i++ {
		y := y1 + (y2-y1)*i/12 + 8*math.Sin(i)
		require.NoError(p.t, mouse.MoveTo(proto.NewPoint(x1+(x2-x1)*i/12, y)))
	}
	require.NoError(p.t, mouse.Up(proto.InputMouseButtonLeft, 1))
}

// strokes waits until so many strokes are drawn over the step in hand.
func (p *tab) strokes(count string) {
	p.t.Helper()
	p.find(`[data-testid="pen-layer"] canvas[data-strokes="` + count + `"]`)
}

// inked tells how many pixels of the layer have ink on them.
func (p *tab) inked() int {
	p.t.Helper()
	found, err := p.Eval(`() => new Promise((done) => requestAnimationFrame(() => requestAnimationFrame(() => {
		const canvas = document.querySelector('[data-testid="pen-layer"] canvas');
		const { data } = canvas.getContext("2d").getImageData(0, 0, canvas.width, canvas.height);
		let inked = 0;
		for (let i = 3; i < data.length; i += 4) if (data[i] > 0) inked++;
		done(inked);
	})))`)
	require.NoError(p.t, err)
	return found.Value.Int()
}

// What is drawn over a step belongs to it: it goes with it and comes back with it, is undone, wiped out, thrown away, or
// kept as a note, which stands in the working and on paper.
func TestPen(t *testing.T) {
	a := newApp(t)
	p := a.open("/problems/" + a.demoID() + "?mode=reveal")
	p.shows("main", "Step 1 of 12")
	p.key(input.ArrowRight, input.ArrowRight)
	p.shows("main", "Step 3 of 12")
	p.key('p')
	p.eventually("the step to be alone", func() bool {
		return len(p.MustElements(`[data-step]`)) == 1 && p.MustHas(`[data-step="look"]`)
	})
	before := p.text(`[data-step="look"]`)
	p.key('i')
	p.find(`[aria-label="Pen"][aria-pressed="true"]`)
	p.stroke(200, 200, 500, 220)
	p.strokes("1")
	p.click("Green ink")
	p.stroke(300, 300, 600, 340)
	p.click("Marker")
	p.stroke(250, 400, 700, 400)
	p.strokes("3")
	assert.Greater(t, p.inked(), 5000)
	assert.Equal(t, before, p.text(`[data-step="look"]`), "nothing of it moves the page")
	p.accessible("the pen")

	p.key(input.ArrowRight)
	p.shows("main", "Step 4 of 12")
	p.strokes("0")
	assert.Zero(t, p.inked())
	p.stroke(200, 200, 400, 220)
	p.strokes("1")
	p.key(input.ArrowLeft)
	p.strokes("3")
	assert.Greater(t, p.inked(), 5000)

	p.click("Eraser")
	p.stroke(300, 290, 320, 310)
	p.strokes("2")
	p.chord("z", "undo")
	p.strokes("3")
	p.click("Throw away what is drawn over this step")
	p.strokes("0")
	p.click("Undo the last stroke")
	p.strokes("3")
	require.NoError(t, p.Reload()) // it is there until the window closes
	p.shows("main", "Step 1 of 12")
	p.key(input.ArrowRight, input.ArrowRight)
	p.strokes("3")

	p.click("Pen")
	p.click("Laser pointer")
	require.NoError(t, p.Mouse.MoveTo(proto.NewPoint(500, 300)))
	p.strokes("3")
	p.click("Keep the drawing as a note at this step")
	p.strokes("0")
	p.find(`[data-step="look"] [data-note] svg polygon`)
	p.key(input.Escape)
	p.find(`button[title="Draw over the page (i)"]`)
	p.key('p')
	document := a.open("/api/problems/" + a.demoID() + "/paper")
	document.find(`.own svg[viewBox] path, .own svg polygon`)
	p.key('r')
	p.keyIs("decision", "do not reject")
	p.click("Throw the drawing away")
	p.eventually("the drawing to be gone", func() bool { return !p.MustHas(`[data-note]`) })
	p.chord("z", "undo")
	p.find(`[data-step="look"] [data-note] svg`)
}

// With 2,000 strokes on the page another one is drawn at the pace of the screen: what a frame draws takes
// less than half of its time.
func TestThePenKeepsPace(t *testing.T) {
	a := newApp(t)
	p := a.open("/")
	p.shows("main", "None is your own yet")
	p.MustEval(`(id) => {
		const strokes = [];
		for (let i = 0; i < 1999; i++) {
			const outline = [], x = (i % 50) * 0.9, y = Math.floor(i / 50) * 0.9;
			for (let j = 0; j < 60; j++) outline.push(x + Math.cos(j / 9.5) * (0.6 + 0.1 * (j % 2)), y + Math.sin(j / 9.5) * 0.5);
			strokes.push({ ink: ["black", "red", "green"][i % 3], marker: false, outline });
		}
		sessionStorage.setItem("grund.drawn." + id, JSON.stringify({ question: strokes }));
	}`, a.demoID())
	p.MustNavigate(a.url + "/problems/" + a.demoID() + "?mode=reveal")
	p.strokes("1999")
	p.key('i')
	p.find(`[aria-label="Pen"][aria-pressed="true"]`)
	p.MustEval(`() => {
		window.spent = []; // by what is drawn for each frame, whatever else the machine does
		const next = window.requestAnimationFrame;
		window.requestAnimationFrame = (draw) => next((time) => {
			const before = performance.now();
			draw(time);
			window.spent.push(performance.now() - before);
		});
	}`)
	for range 6 {
		p.stroke(300, 300, 800, 500)
	}
	p.strokes("2000") // as many as there may be
	p.shows("body", "2000 strokes are as many as a step takes.")
	frames := p.MustEval(`() => window.spent.sort((a, b) => a - b)`).Arr()
	require.Greater(t, len(frames), 20)
	middle := frames[len(frames)/2].Num()
	t.Logf("%d frames, the middle one took %.1f ms, the slowest %.1f ms", len(frames), middle, frames[len(frames)-1].Num())
	assert.Less(t, middle, 1000.0/60/2, "half of a frame at 60 a second")
}
