package store

import (
	"database/sql"
	"strings"
	"sync"
)

// prepared keeps statements from one transaction to the next. A statement that is new in a transaction is prepared for good when none
// runs: while one does, it may have the only connection.
type prepared struct {
	db *sql.DB

	mu         sync.Mutex
	statements map[string]*sql.Stmt // guarded by mu
	asked      []string             // guarded by mu
}

// maxPrepared bounds the statements kept; there are far fewer texts, unless somebody builds them of what a person typed.
const maxPrepared = 200

func prepare(db *sql.DB) *prepared { return &prepared{db: db, statements: map[string]*sql.Stmt{}} }

// built begins a statement that is put together of what a person asks for: it is prepared anew each time, and forgotten.
const built = "/* built */ "

// get gives a statement, or nil when it is not kept, or not yet.
func (p *prepared) get(query string) *sql.Stmt {
	if strings.HasPrefix(query, built) {
		return nil
	}
	p.mu.Lock()
	defer p.mu.Unlock()
	st := p.statements[query]
	if st == nil && len(p.statements)+len(p.asked) < maxPrepared {
		p.asked = append(p.asked, query)
	}
	return st
}

// catchUp prepares what was asked for.
func (p *prepared) catchUp() error {
	p.mu.Lock()
	asked := p.asked
	p.asked = nil
	p.mu.Unlock()
	for _, query := range asked {
		st, err := p.db.Prepare(query)
		if err != nil {
			return err
		}
		p.mu.Lock()
		_, twice := p.statements[query] // somebody else was as quick, and may be using theirs
		if !twice {
			p.statements[query] = st
		}
		p.mu.Unlock()
		if twice {
			_ = st.Close()
		}
	}
	return nil
}
