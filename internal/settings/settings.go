// Package settings are what whoever runs Bright Satchel decides. Each has its variable of the environment, its default and what it is for
// in one place; nothing else of the environment is read but what a program hands to a child of its own.
package settings

import (
	"context"
	"encoding/json"
	"fmt"
	"os"
	"path/filepath"
	"runtime"
	"slices"
	"strings"
	"time"

	"github.com/alecthomas/kong"

	"brightsatchel/internal/house"
	"brightsatchel/internal/mail"
	"brightsatchel/internal/outlets"
)

// House is what every program needs that opens the library.
type House struct {
	Database      string   `env:"SATCHEL_DATABASE" required:"" placeholder:"ADDRESS" help:"${database}"`
	Data          string   `env:"SATCHEL_DATA" default:".data/satchel" help:"${data}"`
	Address       string   `env:"SATCHEL_ADDRESS" default:"127.0.0.1:8460" help:"${address}"`
	Origin        string   `env:"SATCHEL_ORIGIN" placeholder:"https://media.example" help:"${origin}"`
	ServerFolders []string `env:"SATCHEL_SERVER_FOLDERS" sep:":" placeholder:"FOLDER" help:"${server_folders}"`
	Outlets       []string `env:"SATCHEL_OUTLETS" placeholder:"HOST:PORT" help:"${outlets}"`
	Services      string   `env:"SATCHEL_SERVICES" placeholder:"FILE" help:"${services}"`
	Keys          string   `env:"SATCHEL_KEYS" placeholder:"KEYS" help:"${keys}"`
	SMTP          string   `name:"smtp" env:"SATCHEL_SMTP" placeholder:"HOST:PORT" help:"${smtp}"`
	SMTPUser      string   `name:"smtp-user" env:"SATCHEL_SMTP_USER" help:"${smtp_user}"`
	SMTPPassword  string   `name:"smtp-password" env:"SATCHEL_SMTP_PASSWORD" help:"${smtp_password}"`
	MailFrom      string   `env:"SATCHEL_MAIL_FROM" default:"satchel@localhost" help:"${mail_from}"`
}

// Server is what the web application needs besides.
type Server struct {
	Work     bool     `env:"SATCHEL_WORK" default:"true" negatable:"" help:"${work}"`
	Proxies  []string `env:"SATCHEL_PROXIES" placeholder:"ADDRESS" help:"${proxies}"`
	HTTPS    bool     `name:"https" env:"SATCHEL_HTTPS" help:"${https}"`
	Measures string   `env:"SATCHEL_MEASURES" default:"127.0.0.1:8461" help:"${measures}"`
}

// StandIns is where the simulated outside world is.
type StandIns struct {
	StandIns string `name:"standins" env:"SATCHEL_STANDINS" default:"127.0.0.1:8470" help:"${standins}"`
	Website  string `env:"SATCHEL_WEBSITE" default:"127.0.0.1:8472" help:"${website}"`
	Postbox  string `env:"SATCHEL_POSTBOX" default:"127.0.0.1:8474" help:"${postbox}"`
}

// Explained says of each setting what it is for. Programs hand it to kong.
var Explained = kong.Vars{
	"database": "PostgreSQL address, as postgres://somebody@host:5432/satchel.",
	"data":     "Folder for media and uploads.",
	"address":  "Address to listen on.",
	"origin": "How people reach this server, for links in letters and addresses that are handed out. Without it: http:// and the " +
		"address that is listened on.",
	"server_folders": "Folders on this machine inside of which stewards can allow folders to bring in from.",
	"outlets":        "Addresses on this machine or in private networks where outlets may be.",
	"services":       "File that says at which services the server is registered: a list in JSON of kind, address, client and secret.",
	"keys": "Keys, each 32 bytes in base64, that seal what must not be read from the database. The first one seals, all open. " +
		"Without it: the file keys in the data folder.",
	"smtp":          "Mail server that takes letters. Without one none are sent.",
	"smtp_user":     "Where the mail server asks for one.",
	"smtp_password": "Where the mail server asks for one.",
	"mail_from":     "Address that letters are from.",
	"work":          "Do background work in this process too.",
	"proxies":       "Addresses or networks (CIDR) of proxies in front of the server whose forwarded address of a caller is believed.",
	"https":         "People reach the server by HTTPS: browsers send its cookies over nothing else.",
	"measures":      "Address for metrics and profiles, or no; with + behind it, the next free port.",
	"standins":      "Address of the simulated services.",
	"website":       "Address of the made-up website with its editor.",
	"postbox":       "Address of the made-up mail server.",
}

// known are the variables of all programs, and the ports of ./start.
var known = func() []string {
	out := []string{"SATCHEL_DEMO", "SATCHEL_DATABASE_PORT"}
	for _, of := range []any{&struct{ House }{}, &struct{ Server }{}, &struct{ StandIns }{}} {
		model := kong.Must(of, Explained).Model
		for _, flag := range model.Flags {
			out = append(out, flag.Envs...)
		}
	}
	return out
}()

// ofTests is how the variables begin that tests are told by; whoever works at the product has them set.
const ofTests = "SATCHEL_TEST_"

// Unknown says which variable of an environment is meant for this product and is none of its settings; nil is none.
func Unknown(environment []string) error {
	for _, one := range environment {
		name, _, _ := strings.Cut(one, "=")
		if strings.HasPrefix(name, "SATCHEL_") && !strings.HasPrefix(name, ofTests) && !slices.Contains(known, name) {
			return fmt.Errorf("%s is not a setting. “satchel help config” lists all of them", name)
		}
	}
	return nil
}

// Open is what a house is opened with. It makes Data absolute, and reads the file of Services.
func (s *House) Open() (house.Config, error) {
	data, err := filepath.Abs(s.Data)
	if err != nil {
		return house.Config{}, err
	}
	services, err := s.registered()
	if err != nil {
		return house.Config{}, err
	}
	origin := s.Origin
	if origin == "" {
		origin = "http://" + s.Address
	}
	return house.Config{Services: services, Keys: s.Keys, Database: s.Database, Data: data, Workers: runtime.NumCPU(),
		ServerFolders: s.ServerFolders, Outlets: s.Outlets, Origin: strings.TrimSuffix(origin, "/"),
		Mail: mail.Config{Server: s.SMTP, From: s.MailFrom, User: s.SMTPUser, Password: s.SMTPPassword}}, nil
}

// In opens the house, does something in it, and closes it.
func (s *House) In(ctx context.Context, do func(*house.House) error) error {
	config, err := s.Open()
	if err != nil {
		return err
	}
	h, err := house.Open(ctx, config)
	if err != nil {
		return err
	}
	defer func() {
		ending, cancel := context.WithTimeout(context.WithoutCancel(ctx), 10*time.Second)
		defer cancel()
		h.Close(ending)
	}()
	return do(h)
}

// registered reads at which services the server is registered.
func (s *House) registered() (out []outlets.Registered, err error) {
	if s.Services == "" {
		return nil, nil
	}
	text, err := os.ReadFile(s.Services)
	if err == nil {
		err = json.Unmarshal(text, &out)
	}
	if err != nil {
		return nil, fmt.Errorf("SATCHEL_SERVICES: %w", err)
	}
	return out, nil
}
