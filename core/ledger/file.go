package ledger

import (
	"iter.example/iter/core/records"
	"iter.example/iter/core/work"
)

func checkFile(b File) error {
	if err := b.FileRef.Check(); err != nil {
		return err
	}
	return records.CheckText("caption", b.Caption, false, 500)
}

func attached(t *tx, e Entry, b File) error {
	v, err := t.fact()
	if err != nil {
		return err
	}
	v.Files = append(v.Files, work.File{Entry: e.ID, At: e.At, Person: e.Actor, FileRef: b.FileRef, Caption: b.Caption})
	t.save(e.Subject, v)
	return nil
}
