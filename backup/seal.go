package backup

import (
	"archive/zip"
	"bytes"
	"errors"
	"fmt"
	"io"
	"os"
	"path/filepath"
	"strings"
	"unicode/utf8"

	"filippo.io/age"

	"ashshelf/soap/caution"
)

// Seal closes copies so that only a passphrase opens them again, in the well-known format
// age. Closing needs the public half of a key alone; the other half lies in each sealed copy,
// wrapped by the passphrase, so that a copy is all that one needs beside it.
type Seal struct {
	Recipient string `json:"recipient"` // the public half
	Key       []byte `json:"key"`       // the other one, wrapped
}

// Lengths of a passphrase in letters.
const (
	LeastPassphrase = 12
	mostPassphrase  = 500
)

// ErrPassphrase says that a passphrase opens nothing.
var ErrPassphrase = errors.New("that is not the passphrase of this copy")

// Names in a sealed copy.
const (
	wrappedName = "key.age"
	sealedName  = "copy.zip.age"
	readMeName  = "READ-ME.txt"
)

const readMe = `This is a sealed copy of an Ash Shelf shop.

ashshelf restore -in THIS-FILE -data A-FOLDER opens it and asks for the passphrase.

Without the program: both .age files are in the format of age (age-encryption.org).
  1. age -d -o key.txt key.age                 asks for the passphrase
  2. age -d -i key.txt -o copy.zip copy.zip.age
copy.zip is an ordinary archive: a manifest, the records (SQLite) and the pictures.
Delete key.txt afterwards.
`

// CheckPassphrase says what is wrong with a passphrase, or "".
func CheckPassphrase(passphrase string) string {
	switch n := utf8.RuneCountInString(passphrase); {
	case n < LeastPassphrase:
		return fmt.Sprintf("take at least %d letters: four or five words that are easy to keep in mind", LeastPassphrase)
	case n > mostPassphrase:
		return fmt.Sprintf("take at most %d letters", mostPassphrase)
	case caution.Unseen(passphrase) != "":
		return caution.Unseen(passphrase)
	}
	return ""
}

// NewSeal makes a seal that a passphrase opens.
func NewSeal(passphrase string) (*Seal, error) { return newSeal(passphrase, 0) }

// newSeal makes a seal whose passphrase takes 2^work steps to try, 0 for the usual number,
// about a second.
func newSeal(passphrase string, work int) (*Seal, error) {
	if wrong := CheckPassphrase(passphrase); wrong != "" {
		return nil, caution.Problems{{Path: "passphrase", Text: wrong}}
	}
	identity, err := age.GenerateX25519Identity()
	if err != nil {
		return nil, fmt.Errorf("make a key: %w", err)
	}
	to, err := age.NewScryptRecipient(passphrase)
	if err != nil {
		return nil, fmt.Errorf("wrap the key: %w", err)
	}
	if work > 0 {
		to.SetWorkFactor(work)
	}
	var wrapped bytes.Buffer
	w, err := age.Encrypt(&wrapped, to)
	if err == nil {
		_, err = io.WriteString(w, identity.String()+"\n")
		err = errors.Join(err, w.Close())
	}
	if err != nil {
		return nil, fmt.Errorf("wrap the key: %w", err)
	}
	return &Seal{identity.Recipient().String(), wrapped.Bytes()}, nil
}

// close writes a copy sealed.
func (s *Seal) close(plain, to string) (err error) {
	recipient, err := age.ParseX25519Recipient(s.Recipient)
	if err != nil {
		return fmt.Errorf("key of the seal: %w", err)
	}
	in, err := os.Open(plain)
	if err != nil {
		return err
	}
	defer in.Close()
	out, err := os.OpenFile(to, os.O_CREATE|os.O_TRUNC|os.O_WRONLY, 0o600)
	if err != nil {
		return err
	}
	defer func() { err = errors.Join(err, out.Close()) }()
	z := zip.NewWriter(out)
	for _, small := range []struct {
		name string
		text []byte
	}{{readMeName, []byte(readMe)}, {wrappedName, s.Key}} {
		w, err := z.CreateHeader(&zip.FileHeader{Name: small.name, Method: zip.Store})
		if err != nil {
			return err
		}
		if _, err := w.Write(small.text); err != nil {
			return err
		}
	}
	w, err := z.CreateHeader(&zip.FileHeader{Name: sealedName, Method: zip.Store})
	if err != nil {
		return err
	}
	sealed, err := age.Encrypt(w, recipient)
	if err != nil {
		return err
	}
	if _, err := io.Copy(sealed, in); err != nil {
		return err
	}
	return errors.Join(sealed.Close(), z.Close())
}

// mostKey bounds the wrapped half of a key, in bytes.
const mostKey = 16 << 10

// Sealed reports whether a file is a sealed copy.
func Sealed(path string) bool {
	z, err := zip.OpenReader(path)
	if err != nil {
		return false
	}
	defer z.Close()
	for _, f := range z.File {
		if f.Name == sealedName {
			return true
		}
	}
	return false
}

// unseal opens a sealed copy into a folder of its own; one that is not sealed is what it is.
func unseal(path, work string, passphrase func() (string, error)) (plain string, err error) {
	if !Sealed(path) {
		return path, nil
	}
	z, err := zip.OpenReader(path)
	if err != nil {
		return "", fmt.Errorf("%w: %w", ErrNoCopy, err)
	}
	defer z.Close()
	key, err := z.Open(wrappedName)
	if err != nil {
		return "", fmt.Errorf("%w: its key is missing", ErrBroken)
	}
	defer key.Close()
	said, err := passphrase()
	if err != nil {
		return "", err
	}
	if said == "" {
		return "", ErrPassphrase
	}
	with, err := age.NewScryptIdentity(said)
	if err != nil {
		return "", ErrPassphrase
	}
	var noMatch *age.NoIdentityMatchError
	unwrapped, err := age.Decrypt(io.LimitReader(key, mostKey), with)
	if errors.As(err, &noMatch) {
		return "", ErrPassphrase
	}
	if err != nil {
		return "", fmt.Errorf("%w: its key cannot be read (%w)", ErrBroken, err)
	}
	text, err := io.ReadAll(io.LimitReader(unwrapped, mostKey))
	if err != nil {
		return "", fmt.Errorf("%w: its key cannot be read (%w)", ErrBroken, err)
	}
	identity, err := age.ParseX25519Identity(strings.TrimSpace(string(text)))
	if err != nil {
		return "", fmt.Errorf("%w: its key is none", ErrBroken)
	}
	sealed, err := z.Open(sealedName)
	if err != nil {
		return "", fmt.Errorf("%w: %w", ErrBroken, err)
	}
	defer sealed.Close()
	in, err := age.Decrypt(sealed, identity)
	if err != nil {
		return "", fmt.Errorf("%w: it is sealed with another key (%w)", ErrBroken, err)
	}
	plain = filepath.Join(work, "copy.zip")
	out, err := os.OpenFile(plain, os.O_CREATE|os.O_EXCL|os.O_WRONLY, 0o600)
	if err != nil {
		return "", fmt.Errorf("temporary folder: %w", err)
	}
	_, err = io.Copy(out, in)
	if err := errors.Join(err, out.Close()); err != nil {
		return "", fmt.Errorf("%w: %w", ErrBroken, err)
	}
	return plain, nil
}
