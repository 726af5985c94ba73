package web

import (
	"net"
	"net/http"
	"net/netip"
	"os"
	"slices"
	"strings"

	"github.com/gin-gonic/gin"
)

// Door says whom the pages are for. While nobody has an account, whoever gets in may change
// and delete everything, so the door is opened no wider than it was told to. The zero
// value lets in this machine, by its loopback names.
//
// A page elsewhere may give its own name this machine's address and then read what is
// here as if it were its own; it is known by that name in the request's Host, and so only
// names that were told are answered. A request that was passed on says so in its headers,
// and is answered only where the proxy that did it was named: behind one, a server on
// loopback is not on loopback.
type Door struct {
	Hosts    []string       // names answered besides the loopback ones, without a port
	Network  bool           // the network was trusted; while nobody has an account, every page says so
	Others   bool           // other machines reach it, by their users' accounts
	Accounts bool           // every request signs in, also before there is an account
	Proxies  []netip.Prefix // whose forwarded requests are taken

	LogRequests bool // each is told in the log
}

// passedOn are the headers that a proxy adds.
var passedOn = []string{"Forwarded", "X-Forwarded-For", "X-Forwarded-Host", "X-Forwarded-Proto", "X-Forwarded-Port",
	"X-Forwarded-Server", "X-Forwarded-Prefix", "X-Original-Host", "X-Real-Ip", "X-Client-Ip", "True-Client-Ip", "Via"}

// Answers reports whether a request for a host, with or without a port, is answered.
func (d Door) Answers(host string) bool {
	name := host
	if h, _, err := net.SplitHostPort(host); err == nil {
		name = h
	}
	name = strings.ToLower(strings.TrimSuffix(strings.Trim(name, "[]"), "."))
	if name == "localhost" || slices.ContainsFunc(d.Hosts, func(h string) bool { return strings.EqualFold(h, name) }) {
		return true
	}
	ip, err := netip.ParseAddr(name)
	if err != nil {
		return false
	}
	if ip = ip.Unmap().WithZone(""); ip.IsLoopback() {
		return true
	}
	return (d.Network || d.Others) && ours(ip)
}

// ours reports whether an address is one of this machine's.
func ours(ip netip.Addr) bool { return slices.Contains(Addresses(), ip) }

// Addresses are this machine's, those on loopback and those of one link only left out.
func Addresses() []netip.Addr {
	list, err := net.InterfaceAddrs()
	if err != nil {
		return nil
	}
	var found []netip.Addr
	for _, a := range list {
		p, err := netip.ParsePrefix(a.String())
		if ip := p.Addr().Unmap(); err == nil && !ip.IsLoopback() && !ip.IsLinkLocalUnicast() {
			found = append(found, ip)
		}
	}
	return found
}

// Hostname is what this machine is called, "" where it has no name.
func Hostname() string {
	name, err := os.Hostname()
	if err != nil {
		return ""
	}
	return name
}

// door turns away whom the pages are not for, before anything is read.
func (s *Server) doorway(c *gin.Context) {
	if !s.door.Answers(c.Request.Host) {
		c.Header("Content-Type", "text/plain; charset=utf-8")
		c.String(
			http.StatusMisdirectedRequest,
			"This is not answered under the name %.80q. Open it by the address that Chamfer printed when it started,"+
				" or start it with --host and this name.\n",
			c.Request.Host,
		)
		c.Abort()
		return
	}
	for _, name := range passedOn {
		if len(c.Request.Header.Values(name)) == 0 {
			continue
		}
		from, err := netip.ParseAddrPort(c.Request.RemoteAddr)
		known := func(p netip.Prefix) bool { return p.Contains(from.Addr().Unmap().WithZone("")) }
		if err != nil || !slices.ContainsFunc(s.door.Proxies, known) {
			c.String(
				http.StatusForbidden,
				"This request was passed on by a proxy (it has the header %s), and none was named. Start Chamfer"+
					" with --proxy and the proxy's address if it is yours.\n",
				name,
			)
			c.Abort()
			return
		}
	}
	c.Next()
}
