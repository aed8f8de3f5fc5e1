// Package sealing keeps what must not be read from the database, such as the tokens of connected accounts: sealed by a key that is not in
// it (AES-256-GCM, NIST SP 800-38D).
package sealing

import (
	"crypto/aes"
	"crypto/cipher"
	"crypto/rand"
	"crypto/sha256"
	"encoding/base64"
	"errors"
	"fmt"
	"os"
	"path/filepath"
	"strings"
)

// Keys seal with the first and open with all of them, so that a key is changed by putting another one before it.
type Keys []key

type key struct {
	mark   [marked]byte // tells which key sealed something
	sealer cipher.AEAD
}

const (
	keyBytes = 32
	marked   = 4
)

// ErrKey is returned where none of the keys opens what is sealed, or where it was sealed for something else.
var ErrKey = errors.New("it was sealed by another key")

// Read reads keys from a text: each 32 bytes in base64, with commas or line ends between them.
func Read(text string) (Keys, error) {
	var out Keys
	for part := range strings.FieldsFuncSeq(text, func(r rune) bool { return r == ',' || r <= ' ' }) {
		secret, err := base64.StdEncoding.DecodeString(part)
		if err != nil || len(secret) != keyBytes {
			return nil, fmt.Errorf("key %d is not %d bytes in base64", len(out)+1, keyBytes)
		}
		block, err := aes.NewCipher(secret)
		if err != nil {
			return nil, err
		}
		sealer, err := cipher.NewGCMWithRandomNonce(block)
		if err != nil {
			return nil, err
		}
		sum := sha256.Sum256(secret)
		out = append(out, key{[marked]byte(sum[:marked]), sealer})
	}
	if len(out) == 0 {
		return nil, errors.New("there is no key")
	}
	return out, nil
}

// FromFile reads keys from a file that nobody else may read; where there is none it makes one with a new key.
func FromFile(path string) (Keys, error) {
	text, err := os.ReadFile(path)
	if errors.Is(err, os.ErrNotExist) {
		if err := makeFile(path); err != nil {
			return nil, err
		}
		text, err = os.ReadFile(path)
	}
	if err != nil {
		return nil, err
	}
	keys, err := Read(string(text))
	if err != nil {
		return nil, fmt.Errorf("%s: %w", path, err)
	}
	return keys, nil
}

// makeFile makes a file with a new key, unless another process just did: it appears whole, or not at all.
func makeFile(path string) error {
	secret := make([]byte, keyBytes)
	_, _ = rand.Read(secret)
	file, err := os.CreateTemp(filepath.Dir(path), ".key-") // which only its owner may read
	if err != nil {
		return err
	}
	defer func() { _ = os.Remove(file.Name()) }()
	_, err = file.WriteString(base64.StdEncoding.EncodeToString(secret) + "\n")
	if err = errors.Join(err, file.Sync(), file.Close()); err != nil {
		return err
	}
	if err := os.Link(file.Name(), path); !errors.Is(err, os.ErrExist) {
		return err
	}
	return nil
}

// Seal seals bytes for something, such as "outlet 7": they open for the same only.
func (k Keys) Seal(plain []byte, what string) []byte {
	return k[0].sealer.Seal(append([]byte(nil), k[0].mark[:]...), nil, plain, []byte(what))
}

// Open opens what was sealed for something. Current says that the first key did.
func (k Keys) Open(sealed []byte, what string) (plain []byte, current bool, err error) {
	for i, one := range k {
		if len(sealed) > marked && [marked]byte(sealed) == one.mark {
			if plain, err := one.sealer.Open(nil, nil, sealed[marked:], []byte(what)); err == nil {
				return plain, i == 0, nil
			}
		}
	}
	return nil, false, ErrKey
}
