package beanpole

import (
	"bytes"
	"crypto/hmac"
	"crypto/rand"
	"crypto/sha256"
	"encoding/hex"
	"encoding/json"
	"net/http"
	"strconv"
	"strings"
	"time"
)

// hook is an address that is called when a draft is ready, with the secret that its calls are signed with.
type hook struct{ url, secret string }

func (s *Service) addHook(w http.ResponseWriter, body []byte) {
	var asked struct {
		URL string `json:"url"`
	}
	if json.Unmarshal(body, &asked) != nil || !strings.HasPrefix(asked.URL, "http") || len(asked.URL) > 500 {
		fault(w, http.StatusBadRequest, "not_understood", "Say which address is to be called.")
		return
	}
	made := hook{asked.URL, rand.Text()}
	s.mu.Lock()
	s.hooks = append(s.hooks, made)
	if len(s.hooks) > 50 {
		s.hooks = s.hooks[1:]
	}
	s.mu.Unlock()
	say(w, map[string]string{"secret": made.secret})
}

// callHooks tells everybody who asked that a draft is ready. Who does not listen is not asked again.
func (s *Service) callHooks(draft string) {
	s.mu.Lock()
	hooks := append([]hook(nil), s.hooks...)
	s.mu.Unlock()
	client := &http.Client{Timeout: 3 * time.Second}
	for _, h := range hooks {
		body, _ := json.Marshal(map[string]string{"draft": draft, "state": "ready", "at": strconv.FormatInt(time.Now().Unix(), 10)})
		sum := hmac.New(sha256.New, []byte(h.secret))
		sum.Write(body)
		request, err := http.NewRequest(http.MethodPost, h.url, bytes.NewReader(body))
		if err != nil {
			continue
		}
		request.Header.Set("Content-Type", "application/json")
		request.Header.Set("Beanpole-Signature", hex.EncodeToString(sum.Sum(nil)))
		if answer, err := client.Do(request); err == nil {
			_ = answer.Body.Close()
		}
	}
}
