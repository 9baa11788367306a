package api

import "time"

// SetSilence shortens for a test how long a line may carry nothing, until the function it gives is called.
func SetSilence(d time.Duration) func() {
	before := silence
	silence = d
	return func() { silence = before }
}
