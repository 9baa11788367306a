package records

import (
	"maps"
	"slices"
	"strconv"
	"strings"

	"iter.example/iter/core/msg"
)

// MaxFile is the largest file taken, in bytes.
const MaxFile = 64 << 20

// FileTypes are the media types taken: photos as browsers show them, and documents that are the same everywhere.
var FileTypes = []string{"image/jpeg", "image/png", "image/webp", "application/pdf", "text/plain"}

// maxPapers is the most papers of a record.
const maxPapers = 200

// CheckHash says whether a text can be the hash of a file: 64 digits of base 16.
func CheckHash(hash string) error {
	if len(hash) != 64 || strings.Trim(hash, "0123456789abcdef") != "" {
		return msg.New("file.hash_unreadable")
	}
	return nil
}

// CheckPapers says which papers of a record, by hash, can't be.
func CheckPapers(papers map[string]Document) error {
	if len(papers) > maxPapers {
		return msg.New("papers.many", "max", strconv.Itoa(maxPapers))
	}
	for _, hash := range slices.Sorted(maps.Keys(papers)) {
		d := papers[hash]
		if err := CheckHash(hash); err != nil {
			return err
		}
		if !slices.Contains(FileTypes, d.Type) {
			return msg.New("file.type", "type", Clip(d.Type))
		}
		if d.Size < 1 || d.Size > MaxFile {
			return msg.New("file.size", "max", strconv.Itoa(MaxFile>>20))
		}
	}
	return nil
}

// CheckNew says which papers of a site can't be.
func (s Site) CheckNew() error { return CheckPapers(s.Documents) }

// CheckNew says which papers of a machine can't be.
func (a Asset) CheckNew() error { return CheckPapers(a.Documents) }
