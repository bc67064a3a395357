package server

import (
	"net"
	"net/http"
	"net/netip"
	"slices"
	"strings"
	"time"

	"grund/internal/exchange"
	"grund/internal/words"
)

// checkHost refuses requests under a name that is not ours: another site may give its own name this
// machine's address, and its pages would then count as ours (DNS rebinding). Ours are loopback names
// with the port that is listened on, and the hosts that are allowed, with any port or with one.
func checkHost(allowed []string, next http.Handler) http.Handler {
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		if slices.ContainsFunc(allowed, func(host string) bool { return isHost(r.Host, host) }) || OnMachine(r) {
			next.ServeHTTP(w, r)
			return
		}
		exchange.Refuse(w, http.StatusMisdirectedRequest,
			"Grund is not called “"+words.Shorten(r.Host)+"” here. Use its address on this machine, or allow the name when it is started.")
	})
}

func isHost(given, allowed string) bool {
	name, _, err := net.SplitHostPort(given)
	if err != nil {
		name = given
	}
	return strings.EqualFold(given, allowed) || strings.EqualFold(name, allowed)
}

// OnMachine reports whether a request is asked under a name of the machine itself.
func OnMachine(r *http.Request) bool {
	name, port, err := net.SplitHostPort(r.Host)
	if err != nil {
		name, port = strings.Trim(r.Host, "[]"), "80"
	}
	if at, ok := r.Context().Value(http.LocalAddrContextKey).(net.Addr); ok {
		if _, listening, err := net.SplitHostPort(at.String()); err != nil || listening != port {
			return false
		}
	}
	address, err := netip.ParseAddr(name)
	return strings.EqualFold(name, "localhost") || err == nil && address.IsLoopback()
}

// head answers HEAD as GET without the body.
func head(next http.Handler) http.Handler {
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		if r.Method == http.MethodHead {
			get := *r
			get.Method = http.MethodGet
			w, r = &bodiless{w}, &get
		}
		next.ServeHTTP(w, r)
	})
}

// bodiless sends the header of an answer and not its body.
type bodiless struct {
	http.ResponseWriter
}

func (b *bodiless) Write(p []byte) (int, error) { return len(p), nil }

// Unwrap lets a response controller find what is below.
func (b *bodiless) Unwrap() http.ResponseWriter { return b.ResponseWriter }

// stalled is how long an answer may make no progress before the connection is given up: what is long
// over a slow line goes on as long as somebody takes it.
const stalled = time.Minute

// progressing gives each piece of an answer its own limit of time.
func progressing(next http.Handler) http.Handler {
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		p := &progress{w, http.NewResponseController(w)}
		// The limit of the answer before on the same connection is not this one's.
		_ = p.connection.SetWriteDeadline(time.Time{})
		next.ServeHTTP(p, r)
	})
}

// progress writes an answer piece by piece.
type progress struct {
	http.ResponseWriter
	connection *http.ResponseController
}

// goOn gives what is written next its limit of time. What a recorder in a test cannot do need not be done there.
func (w *progress) goOn() { _ = w.connection.SetWriteDeadline(time.Now().Add(stalled)) }

func (w *progress) WriteHeader(status int) {
	w.goOn()
	w.ResponseWriter.WriteHeader(status)
}

func (w *progress) Write(p []byte) (written int, err error) {
	const piece = 64 << 10
	for {
		w.goOn()
		n, err := w.ResponseWriter.Write(p[:min(len(p), piece)])
		written += n
		if p = p[n:]; err != nil || len(p) == 0 {
			return written, err
		}
	}
}

// Unwrap lets a response controller find what is below.
func (w *progress) Unwrap() http.ResponseWriter { return w.ResponseWriter }
