package work

import (
	"slices"
	"time"

	"iter.example/iter/core/audit"
	"iter.example/iter/core/msg"
	"iter.example/iter/core/records"
)

// FileRef names a photo or document by what is in it.
type FileRef struct {
	Hash string `json:"hash"` // SHA-256 of what is in it, 64 hexadecimal digits
	Name string `json:"name"`
	Type string `json:"type"` // one of records.FileTypes
	Size int64  `json:"size"` // bytes
}

// File is a photo or document of a visit.
type File struct {
	audit.Line
	FileRef
	Caption string   `json:"caption,omitempty"`
	About   About    `json:"about"`
	Moment  Moment   `json:"moment,omitempty"`
	Print   *FileRef `json:"print,omitempty"` // a smaller copy, which reports carry
	Marks   []Mark   `json:"marks,omitempty"` // drawn on it; what is in the file stays as it was taken
	// DescribedAt and DescribedBy are when caption, moment and marks were given last, and the entry that did.
	DescribedAt time.Time `json:"describedAt,omitzero"`
	DescribedBy string    `json:"describedBy,omitempty"`
}

// Pictures are the hashes that the file may be fetched by: its own, and that of the smaller copy.
func (f File) Pictures() []string {
	if f.Print == nil {
		return []string{f.Hash}
	}
	return []string{f.Hash, f.Print.Hash}
}

// About is what a file belongs to, when it is not the visit as a whole.
type About struct {
	Asset    string `json:"asset,omitempty"`
	Point    string `json:"point,omitempty"` // the photo of a gauge or meter
	Sheet    string `json:"sheet,omitempty"` // id@version, with Question and, where its section repeats, Item
	Question string `json:"question,omitempty"`
	Item     string `json:"item,omitempty"`
	Entry    string `json:"entry,omitempty"` // of the visit: a request for a part, an expense
}

// Check says which id can't be one.
func (a About) Check() error {
	for _, id := range []string{a.Asset, a.Point, a.Sheet, a.Question, a.Item, a.Entry} {
		if id == "" {
			continue
		}
		if err := records.CheckID(id); err != nil {
			return err
		}
	}
	return nil
}

// Moment is whether a photo shows how it was before the work, or after it.
type Moment string

const (
	Before Moment = "before"
	After  Moment = "after"
)

// Values lists the moments, for generated types.
func (Moment) Values() []string { return []string{"", string(Before), string(After)} }

// MarkForm is what is drawn on a photo.
type MarkForm string

const (
	Arrow MarkForm = "arrow" // from the first point to the second
	Line  MarkForm = "line"
	Box   MarkForm = "box"  // between two corners
	Free  MarkForm = "free" // through all points
	Words MarkForm = "words"
)

// Values lists the forms, for generated types.
func (MarkForm) Values() []string {
	return []string{string(Arrow), string(Line), string(Box), string(Free), string(Words)}
}

// Mark is something drawn on a photo. Points are x and y in ten-thousandths of the photo's width, from its top left.
type Mark struct {
	Form   MarkForm `json:"form"`
	Points []int    `json:"points"`
	Text   string   `json:"text,omitempty"` // of words
	Colour string   `json:"colour"`         // one of Colours
}

// Colours are those that a mark may have, by what they are called.
var Colours = []string{"signal", "ink", "chalk"}

const (
	maxMarks  = 200
	maxPoints = 4000 // of all marks together
)

// CheckMarks says why marks can't be taken.
func CheckMarks(marks []Mark) error {
	n := 0
	for _, m := range marks {
		n += len(m.Points)
		least := 4
		if m.Form == Words {
			least = 2
		}
		ok := slices.Contains(m.Form.Values(), string(m.Form)) && len(m.Points) >= least && len(m.Points)%2 == 0 &&
			slices.Contains(Colours, m.Colour)
		if !ok || slices.ContainsFunc(m.Points, func(p int) bool { return p < -10000 || p > 60000 }) {
			return msg.New("marks.unreadable")
		}
		if err := records.CheckText("text", m.Text, m.Form == Words, 200); err != nil {
			return err
		}
	}
	if len(marks) > maxMarks || n > maxPoints {
		return msg.New("marks.many")
	}
	return nil
}

// Check says why a file can't be taken.
func (f FileRef) Check() error {
	if err := records.CheckHash(f.Hash); err != nil {
		return err
	}
	if !slices.Contains(records.FileTypes, f.Type) {
		return msg.New("file.type", "type", records.Clip(f.Type))
	}
	if f.Size < 1 || f.Size > records.MaxFile {
		return msg.New("file.size", "max", "64")
	}
	return records.CheckText("name", f.Name, true, 200)
}
