package store

import "database/sql"

// prepared keeps statements from one transaction to the next. A statement that is new in a transaction is prepared for good
// before the next one begins: while one runs, it has the only connection for writing.
type prepared struct {
	statements map[string]*sql.Stmt
	asked      []string
}

// maxPrepared bounds the statements kept; there are far fewer texts, unless somebody builds them of what a person typed.
const maxPrepared = 200

// get gives a statement, or nil when it is not kept, or not yet.
func (p *prepared) get(query string) *sql.Stmt {
	if p == nil {
		return nil
	}
	st := p.statements[query]
	if st == nil {
		p.asked = append(p.asked, query)
	}
	return st
}

// catchUp prepares what was asked for.
func (p *prepared) catchUp(db *sql.DB) error {
	for _, query := range p.asked {
		if p.statements[query] != nil || len(p.statements) >= maxPrepared {
			continue
		}
		st, err := db.Prepare(query)
		if err != nil {
			return err
		}
		if p.statements == nil {
			p.statements = map[string]*sql.Stmt{}
		}
		p.statements[query] = st
	}
	p.asked = nil
	return nil
}
