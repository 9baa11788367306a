package simulation

import (
	"bufio"
	"errors"
	"flag"
	"fmt"
	"os"
	"path/filepath"
	"runtime"
	"strings"
	"sync"
	"sync/atomic"
	"testing"

	"github.com/stretchr/testify/require"
)

var (
	seeds  = flag.Int("seeds", 200, "how many `seeds` to simulate")
	from   = flag.Int64("from", 1, "the first `seed`")
	replay = flag.String("replay", "", "a schedule to replay, from a `file`")
)

// simulate runs a schedule from the beginning, heals the world, and says what is wrong then.
func simulate(steps []step, faults ...func(*world)) (err error) {
	dir, err := os.MkdirTemp("", "iter-sim-")
	if err != nil {
		return err
	}
	defer func() { err = errors.Join(err, os.RemoveAll(dir)) }()
	w, err := newWorld(dir)
	if err != nil {
		return err
	}
	defer func() { w.close() }()
	for _, f := range faults {
		f(w)
	}
	for _, s := range steps {
		if err := w.do(s); err != nil {
			return fmt.Errorf("step %q: %w", s, err)
		}
	}
	if err := w.heal(); err != nil {
		return fmt.Errorf("healing: %w", err)
	}
	return w.check()
}

// shrink takes out steps as long as what is left still fails, in ever smaller pieces, and gives what is left with its error.
func shrink(steps []step, why error, fails func([]step) error) ([]step, error) {
	for size := len(steps) / 2; size > 0; {
		shrunk := false
		for at := 0; at+size <= len(steps); {
			less := append(append([]step(nil), steps[:at]...), steps[at+size:]...)
			if err := fails(less); err != nil {
				steps, why, shrunk = less, err, true
			} else {
				at += size
			}
		}
		if !shrunk {
			size /= 2
		}
	}
	return steps, why
}

func text(steps []step) string {
	var b strings.Builder
	for _, s := range steps {
		fmt.Fprintln(&b, s)
	}
	return b.String()
}

// After any schedule of faults and healing, every entry that a device said was saved is at the server exactly once, every
// device shows what the server holds, stock adds up, and the log folds to the same documents.
func TestSchedules(t *testing.T) {
	if *replay != "" {
		steps, err := read(*replay)
		require.NoError(t, err)
		require.NoError(t, simulate(steps))
		return
	}
	var next atomic.Int64
	next.Store(*from - 1)
	var wait sync.WaitGroup
	for range runtime.NumCPU() {
		wait.Go(func() {
			for seed := next.Add(1); seed < *from+int64(*seeds) && !t.Failed(); seed = next.Add(1) {
				steps := schedule(seed)
				if seed%2 == 0 {
					steps = append([]step{{what: "second-copy"}}, steps...)
				}
				if err := simulate(steps); err != nil {
					report(t, seed, steps, err)
				}
			}
		})
	}
	wait.Wait()
}

func report(t *testing.T, seed int64, steps []step, why error) {
	steps, why = shrink(steps, why, func(s []step) error { return simulate(s) })
	path := filepath.Join(os.TempDir(), fmt.Sprintf("iter-seed-%d.schedule", seed))
	if err := os.WriteFile(path, []byte(text(steps)), 0o600); err != nil {
		t.Error(err)
	}
	t.Errorf("seed %d fails, shrunk to %d steps:\n%s%v\nreplay: go test ./server/simulation -run TestSchedules -replay %s", seed,
		len(steps), text(steps), why, path)
}

func read(path string) (out []step, err error) {
	f, err := os.Open(path)
	if err != nil {
		return nil, err
	}
	defer f.Close()
	for lines := bufio.NewScanner(f); lines.Scan(); {
		s, err := parse(lines.Text())
		if err != nil {
			return nil, fmt.Errorf("%q: %w", lines.Text(), err)
		}
		out = append(out, s)
	}
	return out, nil
}

// The simulation finds a device that forgets what it sent before it was answered, and one that forgets what was acknowledged before a
// second place has it; and shrinks the schedule to what it takes.
func TestCarelessDevicesAreFound(t *testing.T) {
	for name, fault := range map[string]func(*device){
		"careless": func(d *device) { d.careless = true },
		"trusting": func(d *device) { d.trusting = true },
	} {
		t.Run(name, func(t *testing.T) {
			found(t, func(w *world) {
				for _, d := range w.devices {
					fault(d)
				}
			})
		})
	}
}

// found has schedules find a fault.
func found(t *testing.T, fault func(*world)) {
	fails := func(s []step) error { return simulate(s, fault) }
	for seed := int64(1); seed < 60; seed++ {
		steps := schedule(seed)
		why := fails(steps)
		if why == nil {
			continue
		}
		shrunk, why := shrink(steps, why, fails)
		require.LessOrEqual(t, len(shrunk), 6, "%s%v", text(shrunk), why)
		again, err := parse(shrunk[0].String())
		require.NoError(t, err)
		require.Equal(t, shrunk[0], again, "a schedule is read as it was printed")
		return
	}
	t.Fatal("no schedule found it")
}
