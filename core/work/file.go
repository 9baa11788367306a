package work

import (
	"regexp"
	"slices"
	"time"

	"iter.example/iter/core/msg"
	"iter.example/iter/core/records"
)

// FileRef names a photo or document by what is in it.
type FileRef struct {
	Hash string `json:"hash"` // SHA-256 of what is in it, 64 hexadecimal digits
	Name string `json:"name"`
	Type string `json:"type"` // one of FileTypes
	Size int64  `json:"size"` // bytes
}

// File is a photo or document of a visit.
type File struct {
	Entry  string    `json:"entry"`
	At     time.Time `json:"at"`
	Person string    `json:"person"`
	FileRef
	Caption string `json:"caption,omitempty"`
	Struck  bool   `json:"struck,omitempty"`
}

// MaxFile is the largest file taken, in bytes.
const MaxFile = 64 << 20

// FileTypes are the media types taken: photos as browsers show them, and documents that are the same everywhere.
var FileTypes = []string{"image/jpeg", "image/png", "image/webp", "application/pdf", "text/plain"}

var hashPattern = regexp.MustCompile(`^[0-9a-f]{64}$`)

// CheckHash says whether a text can be the hash of a file.
func CheckHash(hash string) error {
	if !hashPattern.MatchString(hash) {
		return msg.New("file.hash_unreadable")
	}
	return nil
}

// Check says why a file can't be taken.
func (f FileRef) Check() error {
	if err := CheckHash(f.Hash); err != nil {
		return err
	}
	if !slices.Contains(FileTypes, f.Type) {
		return msg.New("file.type", "type", records.Clip(f.Type))
	}
	if f.Size < 1 || f.Size > MaxFile {
		return msg.New("file.size", "max", "64")
	}
	return records.CheckText("name", f.Name, true, 200)
}
