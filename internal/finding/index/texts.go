package index

import "strings"

// texts are what items say, by their slots, each with the signature of its pairs and triples of bytes: what cannot say a word is told
// by one look into a row of numbers, without a look at the text, which lies anywhere in the memory.
type texts struct {
	said  []string
	signs []signature
}

// signature has a bit for each pair and each triple of bytes of a text, many of which share one. Whatever contains a word has all bits
// of the word (superimposed coding: Mooers, Zatocoding and Developments in Information Retrieval, 1956).
type signature [4]uint64

func signatureOf(text string) signature {
	var s signature
	for i := 1; i < len(text); i++ {
		pair := uint32(text[i-1]) | uint32(text[i])<<8
		s.note(pair | 1<<24)
		if i > 1 {
			s.note(pair<<8 | uint32(text[i-2]))
		}
	}
	return s
}

// note sets the bit of some bytes; multiplied by the golden ratio they are spread over all bits (Knuth, The Art of Computer
// Programming 3, 6.4).
func (s *signature) note(some uint32) {
	bit := some * 0x9e3779b1 >> 24
	s[bit>>6] |= 1 << (bit & 63)
}

// covers says whether all bits of another are here.
func (s *signature) covers(o *signature) bool {
	return o[0]&^s[0]|o[1]&^s[1]|o[2]&^s[2]|o[3]&^s[3] == 0
}

func (t *texts) grow() {
	t.said, t.signs = append(t.said, ""), append(t.signs, signature{})
}

func (t *texts) set(slot uint32, text string) {
	if t.said[slot] != text {
		t.said[slot], t.signs[slot] = text, signatureOf(text)
	}
}

// containing tells of an item whether it says a word.
func (t *texts) containing(word string) func(slot uint32) bool {
	sign := signatureOf(word)
	return func(slot uint32) bool { return t.signs[slot].covers(&sign) && strings.Contains(t.said[slot], word) }
}
