package tiles

import (
	"encoding/binary"
	"encoding/json"
	"errors"
	"fmt"
	"os"
	"sync"
)

// About says what an archive holds.
type About struct {
	Source string `json:"source"` // where the map is from, and under which licence
	Sea    bool   `json:"sea"`    // the sea is round it
	// West, South, East and North are where it ends, in degrees.
	West  float64 `json:"west"`
	South float64 `json:"south"`
	East  float64 `json:"east"`
	North float64 `json:"north"`
	// Least and Most are the zooms that there are tiles of.
	Least int `json:"least"`
	Most  int `json:"most"`
}

// Archive is a map's tiles. Any number may ask it at a time.
type Archive struct {
	About About

	file *os.File
	head head
	root []entry

	mu     sync.Mutex
	leaves map[uint64][]entry // that were read, by where they are
}

// Open opens an archive. What is no such archive, or cut, is refused.
func Open(path string) (*Archive, error) {
	f, err := os.Open(path)
	if err != nil {
		return nil, err
	}
	a := &Archive{file: f, leaves: map[uint64][]entry{}}
	if err := a.read(); err != nil {
		return nil, errors.Join(fmt.Errorf("tiles: %s: %w", path, err), f.Close())
	}
	return a, nil
}

// Close lets go of the archive's file.
func (a *Archive) Close() error { return a.file.Close() }

func (a *Archive) read() error {
	info, err := a.file.Stat()
	if err != nil {
		return err
	}
	raw, err := a.part(0, headSize)
	if err != nil {
		return err
	}
	if _, err := binary.Decode(raw, binary.LittleEndian, &a.head); err != nil {
		return err
	}
	h := a.head
	switch end := h.TilesAt + h.TilesSize; {
	case h.Magic != magic || h.Version != version || h.Packed != byGzip || h.TilesPacked != byGzip || h.Type != vector || h.Most > 30:
		return errors.New("it is no archive of vector tiles, or of another version")
	case uint64(info.Size()) != end || h.RootAt+h.RootSize > end || h.AboutAt+h.AboutSize > end || h.LeavesAt+h.LeavesSize > end:
		return fmt.Errorf("it has %d bytes, not %d", info.Size(), end)
	}
	if a.root, err = a.directory(h.RootAt, h.RootSize); err != nil {
		return err
	}
	if raw, err = a.part(h.AboutAt, h.AboutSize); err != nil {
		return err
	}
	if raw, err = unpack(raw); err != nil {
		return err
	}
	var about metadata
	if err := json.Unmarshal(raw, &about); err != nil {
		return err
	}
	degrees := func(e7 int32) float64 { return float64(e7) / 1e7 }
	a.About = About{Source: about.Attribution, Sea: about.Sea, West: degrees(h.West), South: degrees(h.South), East: degrees(h.East),
		North: degrees(h.North), Least: int(h.Least), Most: int(h.Most)}
	return nil
}

func (a *Archive) part(at, size uint64) ([]byte, error) {
	raw := make([]byte, size)
	_, err := a.file.ReadAt(raw, int64(at))
	return raw, err
}

func (a *Archive) directory(at, size uint64) ([]entry, error) {
	raw, err := a.part(at, size)
	if err != nil {
		return nil, err
	}
	return readDirectory(raw)
}

// mostLeaves is how many directories are held beside the first.
const mostLeaves = 64

func (a *Archive) leaf(e entry) ([]entry, error) {
	a.mu.Lock()
	defer a.mu.Unlock()
	if known, ok := a.leaves[e.at]; ok {
		return known, nil
	}
	list, err := a.directory(a.head.LeavesAt+e.at, uint64(e.size))
	if err != nil {
		return nil, err
	}
	if len(a.leaves) >= mostLeaves {
		clear(a.leaves)
	}
	a.leaves[e.at] = list
	return list, nil
}

// Tile gives a tile, packed by gzip; nil when nothing is to be seen on it.
func (a *Archive) Tile(z, x, y int) ([]byte, error) {
	if z < a.About.Least || z > a.About.Most || x < 0 || y < 0 || x >= 1<<z || y >= 1<<z {
		return nil, nil
	}
	number := numberOf(z, uint32(x), uint32(y))
	e, found := find(a.root, number)
	for depth := 0; found && e.run == 0 && depth < 3; depth++ {
		list, err := a.leaf(e)
		if err != nil {
			return nil, err
		}
		e, found = find(list, number)
	}
	if !found || e.run == 0 {
		return nil, nil
	}
	return a.part(a.head.TilesAt+e.at, uint64(e.size))
}
