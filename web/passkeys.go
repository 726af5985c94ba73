package web

import (
	"encoding/base64"
	"encoding/json"
	"errors"
	"net"
	"net/http"
	"net/netip"
	"strings"

	"github.com/gin-gonic/gin"
	"github.com/go-webauthn/webauthn/protocol"
	"github.com/go-webauthn/webauthn/webauthn"

	"chamfer/store"
)

// noPasskeys says why browsers keep no passkey for a page, "" where they do: they want it secure, and by a name.
func noPasskeys(r *http.Request, secure bool) string {
	host := nameOf(r)
	switch _, err := netip.ParseAddr(host); {
	case err == nil:
		return "Browsers keep passkeys for names, and this page was opened by a number. Open it by the machine's name, such" +
			" as its name with .local behind it; a password works here."
	case !secure && host != "localhost":
		return "Browsers keep passkeys for secure pages only. Start Chamfer with --secure; a password works here."
	}
	return ""
}

// named reports whether a page was opened by a name, and not this machine's own for itself.
func named(r *http.Request) bool {
	_, err := netip.ParseAddr(nameOf(r))
	return err != nil && nameOf(r) != "localhost"
}

// nameOf is the host of a request without its port.
func nameOf(r *http.Request) string {
	host := r.Host
	if h, _, err := net.SplitHostPort(host); err == nil {
		host = h
	}
	return strings.ToLower(strings.TrimSuffix(strings.Trim(host, "[]"), "."))
}

// keeper is what the passkey library asks of an account.
type keeper struct {
	store.Account
	keys []webauthn.Credential
}

func (k keeper) WebAuthnID() []byte                         { return k.Handle }
func (k keeper) WebAuthnName() string                       { return k.Name }
func (k keeper) WebAuthnDisplayName() string                { return k.Name }
func (k keeper) WebAuthnCredentials() []webauthn.Credential { return k.keys }

// keeper gathers an account's passkeys for the name these pages were opened by.
func (s *Server) keeper(c *gin.Context, a store.Account) (keeper, error) {
	k := keeper{Account: a}
	list, err := s.store.Passkeys(asked(c), a.ID)
	for _, p := range list {
		var key webauthn.Credential
		if p.Host == nameOf(c.Request) && json.Unmarshal(p.Body, &key) == nil {
			k.keys = append(k.keys, key)
		}
	}
	return k, err
}

// relying is the passkey library for the name of a request.
func (s *Server) relying(c *gin.Context) (*webauthn.WebAuthn, error) {
	secure := s.overHTTPS(c.Request)
	if why := noPasskeys(c.Request, secure); why != "" {
		return nil, errors.New(why)
	}
	scheme := "http://"
	if secure {
		scheme = "https://"
	}
	return webauthn.New(&webauthn.Config{RPID: nameOf(c.Request), RPDisplayName: "Chamfer",
		RPOrigins: []string{scheme + c.Request.Host}})
}

// asks answers with what the browser is to ask its keys, and remembers it in the session.
func (s *Server) asks(c *gin.Context, what any, held *webauthn.SessionData, err error) {
	if err == nil {
		var raw []byte
		if raw, err = json.Marshal(held); err == nil {
			s.sessionsOf(c.Request).Put(c.Request.Context(), keyPasskey, string(raw))
		}
	}
	if err != nil {
		s.keyRefused(c, err)
		return
	}
	c.Header("Cache-Control", "no-store")
	c.JSON(http.StatusOK, what)
}

// asked is what the browser was to ask, once.
func (s *Server) wasAsked(c *gin.Context) (held webauthn.SessionData, err error) {
	text := s.sessionsOf(c.Request).PopString(c.Request.Context(), keyPasskey)
	if text == "" {
		return held, errors.New("that took too long, or was answered already: press again")
	}
	return held, json.Unmarshal([]byte(text), &held)
}

func (s *Server) keyRefused(c *gin.Context, err error) {
	var e *protocol.Error
	why := err.Error()
	if errors.As(err, &e) {
		s.log.Warn("passkey", "err", e.Details, "info", e.DevInfo)
		why = "the passkey was not taken: press again, or sign in with the password"
	}
	c.JSON(http.StatusUnprocessableEntity, gin.H{"why": sentence(why)})
}

// newPasskey begins to keep one, for whoever is signed in.
func (s *Server) newPasskey(c *gin.Context) {
	w, err := s.relying(c)
	if err != nil {
		s.keyRefused(c, err)
		return
	}
	a, err := s.store.Account(asked(c), visitorOf(c).Account)
	var k keeper
	if err == nil {
		k, err = s.keeper(c, a)
	}
	if err != nil {
		s.keyRefused(c, err)
		return
	}
	what, held, err := w.BeginRegistration(k,
		webauthn.WithExclusions(webauthn.Credentials(k.keys).CredentialDescriptors()),
		webauthn.WithResidentKeyRequirement(protocol.ResidentKeyRequirementRequired),
		webauthn.WithAuthenticatorSelection(protocol.AuthenticatorSelection{
			ResidentKey: protocol.ResidentKeyRequirementRequired, UserVerification: protocol.VerificationRequired}))
	s.asks(c, what, held, err)
}

// keepPasskey keeps the one the browser has made. The answer comes as a form's field.
func (s *Server) keepPasskey(c *gin.Context) {
	w, err := s.relying(c)
	var held webauthn.SessionData
	if err == nil {
		held, err = s.wasAsked(c)
	}
	var a store.Account
	if err == nil {
		a, err = s.store.Account(asked(c), visitorOf(c).Account)
	}
	var key *webauthn.Credential
	if err == nil {
		var answer *protocol.ParsedCredentialCreationData
		if answer, err = protocol.ParseCredentialCreationResponseBytes([]byte(c.PostForm("answer"))); err == nil {
			key, err = w.CreateCredential(keeper{Account: a}, held, answer)
		}
	}
	var raw []byte
	if err == nil {
		raw, err = json.Marshal(key)
	}
	if err == nil {
		err = s.store.KeepPasskey(store.Passkey{ID: key.ID, Account: a.ID, Name: deviceOf(c.Request),
			Host: nameOf(c.Request), Body: raw})
	}
	if err == nil {
		err = s.store.Happened(a.ID, "kept a passkey on "+deviceOf(c.Request))
	}
	if err != nil {
		s.keyRefused(c, err)
		return
	}
	c.JSON(http.StatusOK, gin.H{"to": "/you?said=passkey"})
}

// dropPasskey takes one away.
func (s *Server) dropPasskey(c *gin.Context) {
	id, err := base64.RawURLEncoding.DecodeString(c.PostForm("passkey"))
	if err != nil {
		s.fault(c, http.StatusBadRequest, "There is no such passkey.", "“Your account” lists those that are kept.")
		return
	}
	if err := s.store.DropPasskey(visitorOf(c).Account, id); err != nil {
		s.trouble(c, err)
		return
	}
	c.Redirect(http.StatusSeeOther, "/you?said=out")
}

// askPasskey begins to sign in by one: the browser shows those it has for this name.
func (s *Server) askPasskey(c *gin.Context) {
	w, err := s.relying(c)
	if err != nil {
		s.keyRefused(c, err)
		return
	}
	what, held, err := w.BeginDiscoverableLogin(webauthn.WithUserVerification(protocol.VerificationRequired))
	s.asks(c, what, held, err)
}

// signInByPasskey lets in who holds the key.
func (s *Server) signInByPasskey(c *gin.Context) {
	w, err := s.relying(c)
	var held webauthn.SessionData
	if err == nil {
		held, err = s.wasAsked(c)
	}
	var key *webauthn.Credential
	var user webauthn.User
	if err == nil {
		var answer *protocol.ParsedCredentialAssertionData
		if answer, err = protocol.ParseCredentialRequestResponseBytes([]byte(c.PostForm("answer"))); err == nil {
			user, key, err = w.ValidatePasskeyLogin(func(_, handle []byte) (webauthn.User, error) {
				a, err := s.store.AccountOf(asked(c), handle)
				if err != nil {
					return nil, err
				}
				return s.keeper(c, a)
			}, held, answer)
		}
	}
	if err == nil && key.Authenticator.CloneWarning {
		err = errors.New("that passkey seems to have been copied: sign in with the password, and take it away")
	}
	var raw []byte
	if err == nil {
		raw, err = json.Marshal(key)
	}
	if err != nil {
		s.keyRefused(c, err)
		return
	}
	a := user.(keeper).Account
	err = s.store.KeepPasskey(store.Passkey{ID: key.ID, Account: a.ID, Name: deviceOf(c.Request), Host: nameOf(c.Request),
		Body: raw})
	if err == nil {
		err = s.enter(c, a.ID, 0, store.LongestSession)
	}
	if err == nil {
		err = s.keepDevice(c, a.ID)
	}
	if err != nil {
		s.keyRefused(c, err)
		return
	}
	c.JSON(http.StatusOK, gin.H{"to": inside(c.PostForm("to"))})
}
