package roads_test

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"iter.example/iter/core/records"
	"iter.example/iter/core/roads"
)

// A square with a slow diagonal: the lane is shorter and takes longer.
const square = `land 0 0 0 3000 3000 3000
node 0 0
node 0 2000
node 2000 2000
node 9000 9000
edge 0 1 main Shore road
edge 1 2 main Shore road
edge 0 2 lane Slip Lane
edge 2 3 ferry Far ferry
`

func point(lat, lon float64) records.Point { return records.Point{Lat: lat, Lon: lon} }

func TestTheQuickestWay(t *testing.T) {
	n, err := roads.Read(strings.NewReader(square))
	require.NoError(t, err)
	ways := n.Ways(point(0, 0), point(0.02, 0.02), point(0, 0), point(0.09, 0.09), point(5, 5))
	require.NotNil(t, ways[0])
	assert.Equal(t, []roads.Part{{Name: "Shore road", Class: roads.Main, Metres: 4448, Seconds: 262}}, ways[0].Parts)
	assert.Equal(t, 4448, ways[0].Metres)
	assert.Equal(t, []records.Point{point(0, 0), point(0, 0), point(0, 0.02), point(0.02, 0.02), point(0.02, 0.02)}, ways[0].Line)
	assert.Equal(t, 0, ways[1].Seconds, "one is there")
	assert.Equal(t, []string{"Shore road", "Far ferry"}, []string{ways[2].Parts[0].Name, ways[2].Parts[1].Name})
	assert.Greater(t, ways[2].Parts[1].Seconds, 8*60, "a ferry is waited for")
	assert.Nil(t, ways[3], "far from any road there is no guess")
	assert.Nil(t, n.Ways(point(5, 5), point(0, 0))[0])
}

func TestReadSaysWhatIsWrong(t *testing.T) {
	for text, want := range map[string]string{
		"node 1":                       "line 1",
		"node 1 x":                     "line 1",
		"land":                         "line 1",
		"\nedge 0 1 main":              "line 2",
		"node 1 1\nedge 0 1 main Road": "line 2",
		"node 1 1\nnode 2 2\nedge 0 1 canal Road": "canal",
		"bridge 1 2": "bridge",
	} {
		_, err := roads.Read(strings.NewReader(text))
		assert.ErrorContains(t, err, want, text)
	}
}

// On the coast every place is reached from every other, the same way there and back, and no way beats the crow.
func TestTheCoast(t *testing.T) {
	n := roads.Coast()
	require.Greater(t, len(n.Nodes()), 300)
	require.NotEmpty(t, n.Land)
	rapid.Check(t, func(t *rapid.T) {
		node := rapid.SampledFrom(n.Nodes())
		a, b, c := node.Draw(t, "a"), node.Draw(t, "b"), node.Draw(t, "c")
		ways := n.Ways(a, b, c)
		require.NotNil(t, ways[0])
		require.NotNil(t, ways[1])
		back, on := n.Ways(b, a)[0], n.Ways(b, c)[0]
		require.InDelta(t, ways[0].Seconds, back.Seconds, 1, "there and back")
		require.LessOrEqual(t, ways[1].Seconds, ways[0].Seconds+on.Seconds+2, "the quickest way is not longer than one over another place")
		require.GreaterOrEqual(t, float64(ways[0].Metres)+2, roads.Metres(a, b)*0.999)
		metres, seconds := 0, 0
		for _, p := range ways[0].Parts {
			metres, seconds = metres+p.Metres, seconds+p.Seconds
		}
		require.InDelta(t, ways[0].Metres, metres, float64(len(ways[0].Parts))+1)
		require.InDelta(t, ways[0].Seconds, seconds, float64(len(ways[0].Parts))+1)
	})
}

func FuzzRead(f *testing.F) {
	f.Add(square)
	f.Fuzz(func(t *testing.T, text string) {
		if n, err := roads.Read(strings.NewReader(text)); err == nil {
			n.Ways(records.Point{}, records.Point{Lat: 0.01})
		}
	})
}
