package store

import (
	"database/sql"
	"encoding/json"
	"errors"
	"time"
)

// Account is how a person signs in.
type Account struct {
	Login, Person string
	Hash          string    // argon2id
	Disabled      time.Time // since when nobody signs in with it; zero while they can
	// Epoch counts how often the account's password was changed: sessions of an earlier one are over.
	Epoch int64
}

const accountColumns = "login, person, hash, disabled, epoch"

func scanAccount(row interface{ Scan(...any) error }) (a Account, err error) {
	var disabled string
	if err := row.Scan(&a.Login, &a.Person, &a.Hash, &disabled, &a.Epoch); err != nil {
		return a, err
	}
	if disabled != "" {
		a.Disabled, err = time.Parse(time.RFC3339Nano, disabled)
	}
	return a, err
}

// Account gives the account with a login, and whether there is one.
func (t *Tx) Account(login string) (Account, bool, error) {
	return t.oneAccount("SELECT "+accountColumns+" FROM accounts WHERE login = ?", login)
}

// AccountOf gives a person's account, and whether they have one.
func (t *Tx) AccountOf(person string) (Account, bool, error) {
	return t.oneAccount("SELECT "+accountColumns+" FROM accounts WHERE person = ?", person)
}

func (t *Tx) oneAccount(query, arg string) (Account, bool, error) {
	a, err := scanAccount(t.row(query, arg))
	if errors.Is(err, sql.ErrNoRows) {
		return a, false, nil
	}
	return a, err == nil, err
}

// Accounts lists all accounts, by login.
func (t *Tx) Accounts() ([]Account, error) {
	return collect(t, scanAccount, "SELECT "+accountColumns+" FROM accounts ORDER BY login")
}

// PutAccount keeps an account. A person has one.
func (t *Tx) PutAccount(a Account) error {
	if _, err := t.exec("DELETE FROM accounts WHERE person = ?", a.Person); err != nil {
		return err
	}
	_, err := t.exec("INSERT INTO accounts ("+accountColumns+") VALUES (?,?,?,?,?)", a.Login, a.Person, a.Hash, maybe(a.Disabled), a.Epoch)
	return err
}

// DevicesOf lists a person's devices.
func (t *Tx) DevicesOf(person string) ([]Device, error) {
	return collect(t, scanDevice, "SELECT "+deviceColumns+" FROM devices WHERE person = ? ORDER BY contact DESC", person)
}

// AnyEnded tells whether the access of one of some devices was ended.
func (t *Tx) AnyEnded(replicas []string) (ended bool, err error) {
	if len(replicas) == 0 {
		return false, nil
	}
	list, err := json.Marshal(replicas)
	if err != nil {
		return false, err
	}
	err = t.row("SELECT EXISTS (SELECT 1 FROM devices WHERE ended != '' AND replica IN (SELECT value FROM json_each(?)))",
		string(list)).Scan(&ended)
	return ended, err
}

// EndSession ends a session by the token it is kept under.
func (t *Tx) EndSession(kept string) error {
	_, err := t.exec("DELETE FROM sessions WHERE token = ?", kept)
	return err
}
