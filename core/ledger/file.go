package ledger

import (
	"slices"

	"iter.example/iter/core/audit"
	"iter.example/iter/core/msg"
	"iter.example/iter/core/records"
	"iter.example/iter/core/work"
)

func fileKinds() table {
	return table{
		"file.attached": row[File]{subject: "visit", check: checkFile, apply: attached,
			strike: strikeLine(func(v *work.Visit) []work.File { return v.Files })}.kind(),
		"file.described": row[FileDescribed]{subject: "visit", check: checkDescribed, apply: described, final: "it is described again"}.kind(),
	}
}

// File is the body of file.attached: a photo or document of the visit. What is in it travels apart, by its hash.
type File struct {
	work.FileRef
	Caption string      `json:"caption,omitempty"`
	About   work.About  `json:"about"`
	Moment  work.Moment `json:"moment,omitempty"`
	// Print is a smaller copy of a photo, which reports carry.
	Print *work.FileRef `json:"print,omitempty"`
}

// FileDescribed is the body of file.described: what is said of a photo and drawn on it, in place of what was before.
type FileDescribed struct {
	File    string      `json:"file"` // the entry that attached it
	Caption string      `json:"caption"`
	Moment  work.Moment `json:"moment,omitempty"`
	Marks   []work.Mark `json:"marks,omitempty"`
}

func checkMoment(m work.Moment) error {
	if !slices.Contains(m.Values(), string(m)) {
		return msg.New("file.moment")
	}
	return nil
}

func checkFile(b File) error {
	if err := b.FileRef.Check(); err != nil {
		return err
	}
	if b.Print != nil {
		if err := b.Print.Check(); err != nil {
			return err
		}
	}
	if err := b.About.Check(); err != nil {
		return err
	}
	if err := checkMoment(b.Moment); err != nil {
		return err
	}
	return records.CheckText("caption", b.Caption, false, 500)
}

func attached(t *tx, e Entry, b File) error {
	v, err := t.fact()
	if err != nil {
		return err
	}
	v.Files = audit.Add(v.Files, work.File{Line: e.line(), FileRef: b.FileRef, Caption: b.Caption, About: b.About, Moment: b.Moment,
		Print: b.Print})
	t.save(e.Subject, v)
	return nil
}

func checkDescribed(b FileDescribed) error {
	if !ulid(b.File) {
		return msg.New("entry.id")
	}
	if err := checkMoment(b.Moment); err != nil {
		return err
	}
	if err := work.CheckMarks(b.Marks); err != nil {
		return err
	}
	return records.CheckText("caption", b.Caption, false, 500)
}

func described(t *tx, e Entry, b FileDescribed) error {
	v, err := t.fact()
	if err != nil {
		return err
	}
	i := slices.IndexFunc(v.Files, func(f work.File) bool { return f.Entry == b.File })
	if i < 0 {
		return msg.New("file.unknown")
	}
	f := &v.Files[i]
	// Of two who describe it the later stands, whichever is heard of first.
	if f.DescribedAt.After(e.At) || (f.DescribedAt.Equal(e.At) && f.DescribedBy > e.ID) {
		return nil
	}
	f.Caption, f.Moment, f.Marks, f.DescribedAt, f.DescribedBy = b.Caption, b.Moment, b.Marks, e.At, e.ID
	t.save(e.Subject, v)
	return nil
}
