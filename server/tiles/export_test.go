package tiles

// NumberOf is the number of a tile.
func NumberOf(z int, x, y uint32) uint64 { return numberOf(z, x, y) }

// Entry is a line of a directory: a tile's number, where it is, its size, and how many in a row look alike.
type Entry struct {
	Number, At uint64
	Size, Run  uint32
}

// Directory packs a directory and unpacks it again.
func Directory(list []Entry) ([]Entry, error) {
	var in []entry
	for _, e := range list {
		in = append(in, entry{e.Number, e.At, e.Size, e.Run})
	}
	raw, err := writeDirectory(in)
	if err != nil {
		return nil, err
	}
	back, err := readDirectory(raw)
	var out []Entry
	for _, e := range back {
		out = append(out, Entry{e.number, e.at, e.size, e.run})
	}
	return out, err
}

// ReadDirectory unpacks a directory.
func ReadDirectory(raw []byte) error {
	_, err := readDirectory(raw)
	return err
}
