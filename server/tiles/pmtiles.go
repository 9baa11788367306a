package tiles

import (
	"bufio"
	"bytes"
	"compress/gzip"
	"encoding/binary"
	"errors"
	"io"
	"slices"
)

// The form of an archive (the PMTiles specification, version 3): a head, directories, what it is about, and the tiles. All of them are
// packed by gzip but the head. The library of those who wrote the specification brings the clients of three storage services; this is all
// that is needed of it.

// head is an archive's head, the least byte first.
type head struct {
	Magic   [7]byte
	Version uint8
	// Where the parts are, and how many bytes they have.
	RootAt, RootSize, AboutAt, AboutSize, LeavesAt, LeavesSize, TilesAt, TilesSize uint64
	// How many tiles there are, how many entries, and how many different tiles.
	Addressed, Entries, Contents uint64
	Clustered                    uint8 // 1: the tiles are in the order of their numbers
	Packed, TilesPacked, Type    uint8
	Least, Most                  uint8 // zooms
	West, South, East, North     int32 // in ten-millionths of a degree
	CenterZoom                   uint8
	CenterLon, CenterLat         int32
}

const (
	headSize = 127
	version  = 3
	byGzip   = 2 // packed
	vector   = 1 // type of tiles
)

var magic = [7]byte([]byte("PMTiles"))

// entry is a line of a directory: a tile, or as many in a row as run that look alike; none is another directory, among the leaves.
type entry struct {
	number, at uint64
	size, run  uint32
}

// numberOf is a tile's number: zoom by zoom, along a Hilbert curve.
func numberOf(z int, x, y uint32) uint64 {
	n := (uint64(1)<<(2*z) - 1) / 3 // those of the zooms before
	for side := uint32(1) << z >> 1; side > 0; side /= 2 {
		right, down := x/side&1, y/side&1
		n += uint64(side) * uint64(side) * uint64(3*right^down)
		x, y = x%side, y%side
		if down == 0 {
			if right == 1 {
				x, y = side-1-x, side-1-y
			}
			x, y = y, x
		}
	}
	return n
}

// writeDirectory packs a directory.
func writeDirectory(list []entry) ([]byte, error) {
	raw := binary.AppendUvarint(nil, uint64(len(list)))
	last := uint64(0)
	for _, e := range list {
		raw = binary.AppendUvarint(raw, e.number-last)
		last = e.number
	}
	for _, e := range list {
		raw = binary.AppendUvarint(raw, uint64(e.run))
	}
	for _, e := range list {
		raw = binary.AppendUvarint(raw, uint64(e.size))
	}
	for i, e := range list {
		if i > 0 && e.at == list[i-1].at+uint64(list[i-1].size) {
			raw = binary.AppendUvarint(raw, 0) // it follows the one before
		} else {
			raw = binary.AppendUvarint(raw, e.at+1)
		}
	}
	return pack(raw)
}

func pack(raw []byte) ([]byte, error) {
	var out bytes.Buffer
	w, err := gzip.NewWriterLevel(&out, gzip.BestCompression)
	if err != nil {
		return nil, err
	}
	_, err = w.Write(raw)
	err = errors.Join(err, w.Close())
	return out.Bytes(), err
}

// errDirectory tells of a directory that is none.
var errDirectory = errors.New("a directory is broken")

// mostEntries is how many entries a directory has at most.
const mostEntries = 1 << 24

// readDirectory unpacks a directory.
func readDirectory(packed []byte) ([]entry, error) {
	unpacked, err := gzip.NewReader(bytes.NewReader(packed))
	if err != nil {
		return nil, errors.Join(errDirectory, err)
	}
	from := bufio.NewReader(unpacked)
	next := func() (n uint64) {
		if err == nil {
			n, err = binary.ReadUvarint(from)
		}
		return n
	}
	count := next()
	if err != nil || count > mostEntries {
		return nil, errors.Join(errDirectory, err)
	}
	list := make([]entry, count)
	last := uint64(0)
	for i := range list {
		last += next()
		list[i].number = last
	}
	for i := range list {
		list[i].run = uint32(next())
	}
	for i := range list {
		list[i].size = uint32(next())
	}
	for i := range list {
		switch at := next(); {
		case at > 0:
			list[i].at = at - 1
		case i > 0:
			list[i].at = list[i-1].at + uint64(list[i-1].size)
		default:
			return nil, errors.Join(errDirectory, err)
		}
	}
	if err != nil {
		return nil, errors.Join(errDirectory, err)
	}
	return list, nil
}

// find gives the entry of a tile, or the one of the directory that has it.
func find(list []entry, number uint64) (entry, bool) {
	i, exact := slices.BinarySearchFunc(list, number, func(e entry, n uint64) int {
		switch {
		case e.number < n:
			return -1
		case e.number > n:
			return 1
		}
		return 0
	})
	if exact {
		return list[i], true
	}
	if i == 0 {
		return entry{}, false
	}
	e := list[i-1]
	return e, e.run == 0 || number < e.number+uint64(e.run)
}

const (
	// rootSize is how many bytes the head and the root directory have at most: they are read at once.
	rootSize = 16384
	leafSize = 4096 // entries
)

// directories packs entries that are in order into a root directory and leaves.
func directories(list []entry) (root, leaves []byte, err error) {
	if root, err = writeDirectory(list); err != nil || headSize+len(root) <= rootSize {
		return root, nil, err
	}
	for size := leafSize; ; size *= 2 {
		leaves = nil
		var top []entry
		for part := range slices.Chunk(list, size) {
			leaf, err := writeDirectory(part)
			if err != nil {
				return nil, nil, err
			}
			top = append(top, entry{number: part[0].number, at: uint64(len(leaves)), size: uint32(len(leaf))})
			leaves = append(leaves, leaf...)
		}
		if root, err = writeDirectory(top); err != nil || headSize+len(root) <= rootSize {
			return root, leaves, err
		}
	}
}

// unpack reads a part that is packed.
func unpack(packed []byte) ([]byte, error) {
	r, err := gzip.NewReader(bytes.NewReader(packed))
	if err != nil {
		return nil, err
	}
	return io.ReadAll(r)
}
