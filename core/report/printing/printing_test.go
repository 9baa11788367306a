package printing_test

import (
	"bytes"
	"fmt"
	"image"
	"image/color"
	"image/jpeg"
	"os"
	"path/filepath"
	"strings"
	"testing"
	"time"

	"github.com/shopspring/decimal"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"iter.example/iter/core/labor"
	"iter.example/iter/core/msg"
	"iter.example/iter/core/paper/papertest"
	"iter.example/iter/core/reading"
	"iter.example/iter/core/report"
	"iter.example/iter/core/report/printing"
	"iter.example/iter/core/signoff"
	"iter.example/iter/core/work"
)

var at = time.Date(2026, 3, 10, 14, 5, 0, 0, time.FixedZone("", 3600))

func picture(t *testing.T, n int) []byte {
	img := image.NewRGBA(image.Rect(0, 0, 400, 300))
	for i := range img.Pix {
		img.Pix[i] = uint8(i * (n + 3) / 700)
	}
	img.Set(n, n, color.White)
	var b bytes.Buffer
	require.NoError(t, jpeg.Encode(&b, img, nil))
	return b.Bytes()
}

func full(t *testing.T) (report.Report, map[string][]byte) {
	limit := decimal.RequireFromString("6.5")
	price := decimal.RequireFromString("84.5")
	r := report.Report{
		Layout: report.Full, Language: "en", At: at, By: "Ona Pryde", CheckAt: "https://iter.example/check/",
		Firm:  report.Firm{Name: "Skerry Pumps", Lines: []string{"Quay 4, Tarn Harbour"}, Phone: "0200 41 22", Close: "Thank you."},
		Order: "4127", Customer: "Holm Dairy", Site: "Holm, pump house", Asset: "Booster set 2", Problem: "Pressure drops in the morning",
		Outcome: "Complete", Ended: at,
		People:   []report.Time{{Name: "Ona Pryde", Hours: labor.Hours{Work: 5400, Travel: 1200}}},
		Tasks:    []signoff.Line{{Name: "Change seal", Mark: "done"}},
		Findings: []report.Finding{{At: at, Name: "Ona Pryde", Text: "Shaft seal worn; Ωμέγα; Жанна Ёлкина; 陳."}},
		Readings: []report.Reading{{Asset: "Booster set 2", Point: "Discharge pressure", Value: "6.8", Unit: "bar",
			Limits: reading.Limits{WarnHigh: &limit}, Level: reading.High}},
		Sheets: []report.Sheet{{Title: "Yearly check", Lines: []signoff.Line{{Name: "Guard in place?", Value: "yes"}}}},
		Parts:  []signoff.Line{{Name: "Shaft seal 32 mm", Value: "1", Unit: "each"}},
		Advice: []report.Advice{{Text: "Change the second pump's seal too",
			Lines: []report.AdviceLine{{Text: "Shaft seal", Quantity: decimal.NewFromInt(1), Unit: "each", Price: &price,
				Answer: "accepted"}, {Text: "Coupling", Quantity: decimal.NewFromInt(1), Answer: "declined"}}}},
		Signatures: []report.Signature{{Name: "Tam Hale", Role: "Duty engineer", At: at,
			Strokes: signoff.Strokes{{{10, 90}, {120, 20}, {220, 90}, {400, 40}}}, Digest: strings.Repeat("ab", 32)}},
	}
	files := map[string][]byte{}
	for i := range 3 {
		raw := picture(t, i)
		hash := fmt.Sprintf("%064x", i+1)
		files[hash] = raw
		r.Photos = append(r.Photos, report.Photo{Hash: hash, Type: "image/jpeg", Size: int64(len(raw)), At: at,
			Caption: fmt.Sprintf("Seal %d", i), Moment: "after"})
	}
	r.Photos[0].Marks = []work.Mark{{Form: work.Arrow, Points: []int{1000, 1000, 5000, 4000}, Colour: "signal"},
		{Form: work.Box, Points: []int{5200, 3000, 8000, 6000}, Colour: "chalk"},
		{Form: work.Free, Points: []int{100, 100, 400, 900, 900, 300}, Colour: "ink"},
		{Form: work.Words, Points: []int{900, 6900}, Text: "weeps here", Colour: "signal"}}
	return r, files
}

func TestPrintIsReadableAndTheSameEachTime(t *testing.T) {
	for _, layout := range []report.Layout{report.Full, report.Short, report.Photos} {
		r, files := full(t)
		r.Layout = layout
		pdf, err := printing.Print(r, files)
		require.NoError(t, err)
		again, err := printing.Print(r, files)
		require.NoError(t, err)
		assert.True(t, bytes.Equal(pdf, again), "the same bytes")
		if to := os.Getenv("ITER_PAPER"); to != "" { // to look at
			require.NoError(t, os.WriteFile(filepath.Join(to, string(layout)+".pdf"), pdf, 0o600))
		}
		text := papertest.Text(t, pdf)
		digest, err := r.Digest()
		require.NoError(t, err)
		for _, want := range []string{"Service report", "4127", "Holm Dairy", "Shaft seal 32 mm", "6.8 bar", "≤ 6.5 bar",
			"Ωμέγα; Жанна Ёлкина; □.", "this paper can't show", "accepted", "not wanted", "Tam Hale, Duty engineer", "weeps here",
			report.Code(digest)} {
			assert.Contains(t, text, want, layout)
		}
		assert.Equal(t, layout != report.Short, strings.Contains(text, "Guard in place?"), layout)
	}
}

func TestPrintTellsWhatItLacks(t *testing.T) {
	r, files := full(t)
	delete(files, r.Photos[1].Hash)
	_, err := printing.Print(r, files)
	assert.Equal(t, "report.photo_awaited", msg.From(err).Code)
	files[r.Photos[1].Hash] = []byte("no photo at all")
	_, err = printing.Print(r, files)
	assert.Equal(t, "file.unreadable", msg.From(err).Code)
	r.Layout = "poster"
	_, err = printing.Print(r, files)
	assert.Equal(t, "report.layout", msg.From(err).Code)
}

// Long texts and long lists run over pages and lose nothing.
func TestPrintTakesWhateverLength(t *testing.T) {
	r, files := full(t)
	words := make([]string, 3000)
	for i := range words {
		words[i] = fmt.Sprintf("word%d", i)
	}
	r.Findings[0].Text = strings.Join(words, " ") + "\n" + strings.Repeat("m", 400)
	for i := range 200 {
		r.Parts = append(r.Parts,
			signoff.Line{Name: fmt.Sprintf("Part number %d with a name that is rather long and goes on over more than one line "+
				"of the table it is in", i), Value: "2", Unit: "each"})
	}
	pdf, err := printing.Print(r, files)
	require.NoError(t, err)
	text := strings.Join(strings.Fields(papertest.Text(t, pdf)), " ")
	for _, want := range []string{"word0 ", "word1500 ", "word2999", "Part number 0 ", "Part number 199 "} {
		assert.Contains(t, text, want)
	}
}
