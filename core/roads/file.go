package roads

import (
	"bufio"
	"encoding/binary"
	"errors"
	"hash"
	"hash/crc32"
	"io"

	"iter.example/iter/core/msg"
)

// A region in a file: a head with the version, then its parts, each with its length, then a checksum. All numbers are of 32 bits, the least
// byte first.
const fileHead = "iter roads 1\n"

// checksum is made where it is asked for: devices, which read no roads, do without.
func checksum() *crc32.Table { return crc32.MakeTable(crc32.Castagnoli) }

// Write writes a region.
func (r *Region) Write(to io.Writer) error {
	sum := crc32.New(checksum())
	w := &writer{to: bufio.NewWriterSize(io.MultiWriter(to, sum), 1<<20)}
	w.bytes([]byte(fileHead))
	w.text(r.Source)
	w.number(len(r.names))
	for _, n := range r.names {
		w.text(n)
	}
	put(w, r.roads, func(x stretch) []uint32 {
		return []uint32{x.from, x.to, x.name, uint32(x.class), x.there, x.back, x.metres}
	})
	put(w, r.points, func(s spot) []uint32 { return []uint32{uint32(s.lat), uint32(s.lon)} })
	w.number(len(r.up.first) - 1)
	put(w, r.arcs, func(a arc) []uint32 {
		return []uint32{uint32(a.from), uint32(a.to), a.cost, a.ferry, a.metres, uint32(a.a), uint32(a.b)}
	})
	if w.err == nil {
		w.err = w.to.Flush()
	}
	if w.err == nil {
		_, w.err = to.Write(binary.LittleEndian.AppendUint32(nil, sum.Sum32()))
	}
	return w.err
}

type writer struct {
	to  *bufio.Writer
	err error
}

func (w *writer) bytes(b []byte) {
	if w.err == nil {
		_, w.err = w.to.Write(b)
	}
}

func (w *writer) number(n int) { w.bytes(binary.LittleEndian.AppendUint32(nil, uint32(n))) }

func (w *writer) text(s string) {
	w.number(len(s))
	w.bytes([]byte(s))
}

func put[T any](w *writer, list []T, fields func(T) []uint32) {
	w.number(len(list))
	var line []byte
	for _, x := range list {
		line = line[:0]
		for _, f := range fields(x) {
			line = binary.LittleEndian.AppendUint32(line, f)
		}
		w.bytes(line)
	}
}

// Open reads a region that was written. What is broken, or of another version, is refused.
func Open(from io.Reader) (*Region, error) {
	r := &reader{from: bufio.NewReaderSize(from, 1<<20), sum: crc32.New(checksum())}
	if string(r.bytes(len(fileHead))) != fileHead {
		return nil, msg.New("roads.unreadable")
	}
	out := &Region{Source: r.text()}
	out.names = make([]string, 0, min(r.number(), 1<<20))
	for range r.last {
		if r.err != nil {
			break
		}
		out.names = append(out.names, r.text())
	}
	out.roads = get(r, 7, func(f []uint32) stretch {
		return stretch{f[0], f[1], f[2], uint8(f[3]), f[4], f[5], f[6]}
	})
	out.points = get(r, 2, func(f []uint32) spot { return spot{int32(f[0]), int32(f[1])} })
	nodes := r.number()
	out.arcs = get(r, 7, func(f []uint32) arc {
		return arc{int32(f[0]), int32(f[1]), f[2], f[3], f[4], int32(f[5]), int32(f[6])}
	})
	sum := r.sum.Sum32()
	if stored := r.number(); r.err != nil || uint32(stored) != sum || !out.sound(nodes) {
		return nil, msg.New("roads.unreadable")
	}
	out.link(nodes)
	out.join()
	out.cells = cellsOf(out)
	return out, nil
}

// join finds the nodes at the ends of each stretch by its arcs.
func (r *Region) join() {
	r.there, r.back = make([]ends, len(r.roads)), make([]ends, len(r.roads))
	for i := range r.roads {
		r.there[i].head, r.back[i].head = -1, -1
	}
	for _, a := range r.arcs {
		if a.b >= 0 {
			continue
		}
		e := &r.there[a.a>>1]
		if a.a&1 == 1 {
			e = &r.back[a.a>>1]
		}
		e.head, e.tails = a.to, append(e.tails, a.from)
	}
}

// sound tells whether all that refers to something else does.
func (r *Region) sound(nodes int) bool {
	if nodes < 1 || nodes > most || len(r.roads) == 0 {
		return false
	}
	for _, x := range r.roads {
		if x.from+1 >= x.to || int(x.to) > len(r.points) || int(x.name) >= len(r.names) || int(x.class) >= len(Classes) {
			return false
		}
	}
	for i, a := range r.arcs {
		if a.from < 0 || a.to < 0 || int(a.from) >= nodes || int(a.to) >= nodes || a.a < 0 || a.b >= int32(i) ||
			a.b >= 0 && a.a >= int32(i) || a.b < 0 && int(a.a>>1) >= len(r.roads) {
			return false
		}
	}
	return true
}

type reader struct {
	from *bufio.Reader
	sum  hash.Hash32
	last int // number read
	err  error
}

func (r *reader) bytes(n int) []byte {
	b := make([]byte, n)
	r.into(b)
	return b
}

func (r *reader) into(b []byte) {
	if r.err == nil {
		_, r.err = io.ReadFull(r.from, b)
		r.sum.Write(b)
	}
}

func (r *reader) number() int {
	b := [4]byte{}
	r.into(b[:])
	r.last = int(binary.LittleEndian.Uint32(b[:]))
	return r.last
}

const longestText = 1 << 16

func (r *reader) text() string {
	n := r.number()
	if n > longestText {
		r.err = errors.Join(r.err, io.ErrUnexpectedEOF)
		return ""
	}
	return string(r.bytes(n))
}

// get reads a list. One that claims to be longer than the file is found out at the file's end.
func get[T any](r *reader, width int, one func([]uint32) T) []T {
	n := r.number()
	out := make([]T, 0, min(n, 1<<16))
	line, fields := make([]byte, 4*width), make([]uint32, width)
	for range n {
		if r.into(line); r.err != nil {
			return nil
		}
		for k := range fields {
			fields[k] = binary.LittleEndian.Uint32(line[4*k:])
		}
		out = append(out, one(fields))
	}
	return out
}
