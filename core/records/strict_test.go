package records_test

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"

	"iter.example/iter/core/records"
)

func TestWhatAPersonCanNotBe(t *testing.T) {
	assert.NoError(t, records.Person{Name: "Ann"}.CheckNew())
	assert.Error(t, records.Person{Name: "Ann", Home: &records.Point{Lon: 181}}.CheckNew())
	assert.Error(t, records.Person{Name: "Ann", Van: "../van"}.CheckNew())
	assert.Error(t, records.Person{Name: "Ann", Phone: strings.Repeat("0", 201)}.CheckNew())
}
