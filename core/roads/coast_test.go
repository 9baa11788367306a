package roads_test

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"iter.example/iter/core/records"
	"iter.example/iter/core/roads"
)

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

// The coast has shores, and roads that lie on them.
func TestTheCoast(t *testing.T) {
	n := roads.Coast()
	require.Greater(t, len(n.Nodes()), 300)
	require.NotEmpty(t, n.Land)
	require.NotEmpty(t, n.Lines()[roads.Ferry])
}

func FuzzRead(f *testing.F) {
	f.Add(square)
	f.Fuzz(func(t *testing.T, text string) {
		if n, err := roads.Read(strings.NewReader(text)); err == nil {
			n.Lines()
		}
	})
}
