// Package e2e drives the real interface: the built binary, its own PostgreSQL,
// and Debian's Chromium.
package e2e

import (
	"bufio"
	"context"
	"encoding/json"
	"flag"
	"fmt"
	"net"
	"net/http"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"sync/atomic"
	"syscall"
	"testing"

	"github.com/go-rod/rod"
	"github.com/go-rod/rod/lib/launcher"
	"github.com/stretchr/testify/require"

	"grund/demo"
	"grund/internal/localpg/pgtest"
)

// binary is built once for all tests; browser is started once.
var (
	binary  string
	browser *rod.Browser
)

func TestMain(m *testing.M) { os.Exit(run(m)) }

func run(m *testing.M) int {
	fail := func(err error) int {
		fmt.Fprintln(os.Stderr, "e2e:", err)
		return 1
	}
	if _, err := os.Stat("../web/dist/index.html"); err != nil {
		return fail(fmt.Errorf("the interface is not built: run make web"))
	}
	chromium, err := exec.LookPath("chromium")
	if err != nil {
		return fail(fmt.Errorf("Chromium is not installed: run apt-get install chromium"))
	}
	folder, err := os.MkdirTemp("", "grund-e2e-")
	if err != nil {
		return fail(err)
	}
	defer os.RemoveAll(folder)
	binary = filepath.Join(folder, "grund")
	if out, err := exec.Command("go", "build", "-o", binary, "../cmd/grund").CombinedOutput(); err != nil {
		return fail(fmt.Errorf("building grund: %w: %s", err, out))
	}
	stop, err := pgtest.Start()
	if err != nil {
		return fail(err)
	}
	defer stop()
	launch := launcher.New().Bin(chromium).Leakless(false).Headless(true).NoSandbox(true).
		UserDataDir(filepath.Join(folder, "profile")).
		Set("disable-gpu").Set("disable-background-networking").Set("disable-component-update").
		Set("disable-sync").Set("no-first-run").
		Set("disable-backgrounding-occluded-windows").Set("disable-renderer-backgrounding").
		Set("disable-background-timer-throttling") // a page that another lies over is one in use
	url, err := launch.Launch()
	if err != nil {
		return fail(fmt.Errorf("starting Chromium: %w", err))
	}
	defer launch.Kill() // the browser that was started above, by its id
	browser = rod.New().ControlURL(url)
	if err := browser.Connect(); err != nil {
		return fail(err)
	}
	if err := loadDemo(); err != nil {
		return fail(err)
	}
	flag.Parse()
	if err := flag.Set("test.parallel", "3"); err != nil { // a test waits for its page more than it works
		return fail(err)
	}
	return m.Run()
}

// app is a running grund with data of its own.
type app struct {
	people  bool // whether people sign in; everybody is the person of the machine otherwise
	t       *testing.T
	env     []string
	args    []string
	port    int
	command *exec.Cmd
	url     string
}

// demoDatabase is the URL of a database in which the demo is loaded, and which nobody uses.
var demoDatabase string

// loadDemo makes demoDatabase.
func loadDemo() error {
	var err error
	if demoDatabase, err = pgtest.NewDatabase(context.Background()); err != nil {
		return err
	}
	a := &app{env: []string{"GRUND_DATABASE_URL=" + demoDatabase}}
	if err := a.run(); err != nil {
		return err
	}
	a.stop()
	return nil
}

// newApp starts grund demo on a database that holds the demo and nothing else, and stops it
// when the test ends. Other tests with an app of their own run beside this one.
func newApp(t *testing.T) *app {
	t.Helper()
	t.Parallel()
	return startApp(t, []string{"GRUND_DATABASE_URL=" + pgtest.Copy(t, demoDatabase)})
}

// newAppWithPeople starts grund demo as newApp does, for people who sign in.
func newAppWithPeople(t *testing.T) *app {
	t.Helper()
	t.Parallel()
	a := &app{t: t, people: true, env: []string{"GRUND_DATABASE_URL=" + pgtest.Copy(t, demoDatabase)}}
	a.start()
	t.Cleanup(a.stop)
	return a
}

// newAppAlone starts grund demo with a PostgreSQL of its own, as make demo does, beside other tests.
func newAppAlone(t *testing.T) *app {
	t.Helper()
	t.Parallel()
	dir, err := pgtest.Dir()
	require.NoError(t, err)
	t.Cleanup(func() { os.RemoveAll(dir) })
	return startApp(t, nil, "--dir", dir)
}

func startApp(t *testing.T, env []string, args ...string) *app {
	t.Helper()
	a := &app{t: t, env: env, args: args}
	a.start()
	t.Cleanup(a.stop)
	return a
}

func (a *app) start() {
	a.t.Helper()
	require.NoError(a.t, a.run())
}

// lastPort is the port that an app took last. They lie below those that the system gives to
// whoever asks for any, so that an app that is started again finds its own still free.
var lastPort atomic.Int32

// run starts the server, on the port that it had before if it had one.
func (a *app) run() error {
	for a.port == 0 {
		port := 20_000 + int(lastPort.Add(1))
		listener, err := net.Listen("tcp", fmt.Sprintf("127.0.0.1:%d", port))
		if err != nil {
			continue // another program has it
		}
		a.port = port
		listener.Close()
	}
	a.url = fmt.Sprintf("http://127.0.0.1:%d", a.port)
	args := []string{"demo", "--port", fmt.Sprint(a.port)}
	if !a.people {
		args = append(args, "--alone")
	}
	a.command = exec.Command(binary, append(args, a.args...)...)
	a.command.Env = append(os.Environ(), a.env...)
	a.command.Stderr = os.Stderr
	out, err := a.command.StdoutPipe()
	if err != nil {
		return err
	}
	if err := a.command.Start(); err != nil {
		return err
	}
	lines := bufio.NewScanner(out)
	if !lines.Scan() || !strings.Contains(lines.Text(), a.url) {
		return fmt.Errorf("grund did not start: %q", lines.Text())
	}
	go func() {
		for lines.Scan() {
		}
	}()
	return nil
}

// grund runs the command line on the app's data.
func (a *app) grund(args ...string) string {
	a.t.Helper()
	command := exec.Command(binary, args...)
	command.Env = append(os.Environ(), a.env...)
	out, err := command.CombinedOutput()
	require.NoError(a.t, err, string(out))
	return string(out)
}

// stop ends the server as Ctrl-C does.
func (a *app) stop() {
	if a.command == nil {
		return
	}
	_ = a.command.Process.Signal(syscall.SIGINT)
	_ = a.command.Wait()
	a.command = nil
}

// dataTitle returns what the demo data set of that file is called.
func dataTitle(t *testing.T, file string) string {
	t.Helper()
	set, err := demo.DataSet(file)
	require.NoError(t, err)
	require.NotNil(t, set, file)
	return set.Name
}

// dataID returns the id of the demo data set of that file.
func (a *app) dataID(file string) string {
	a.t.Helper()
	return a.idOf("/api/data-sets", dataTitle(a.t, file))
}

// demoID returns the id of the demo problem about the two berths.
func (a *app) demoID() string {
	a.t.Helper()
	return a.problemID("Do the two berths load at the same speed?")
}

// problemID returns the id of the problem of that title.
func (a *app) problemID(title string) string {
	a.t.Helper()
	return a.idOf("/api/problems", title)
}

// idOf returns the id of what has that name, or that title, in a list of the API.
func (a *app) idOf(path, called string) string {
	a.t.Helper()
	response, err := http.Get(a.url + path)
	require.NoError(a.t, err)
	defer response.Body.Close()
	var list []struct {
		ID    string `json:"id"`
		Name  string `json:"name"`
		Title string `json:"title"`
	}
	require.NoError(a.t, json.NewDecoder(response.Body).Decode(&list))
	for _, one := range list {
		if one.Name == called || one.Title == called {
			return one.ID
		}
	}
	a.t.Fatalf("%s lists no %s", path, called)
	return ""
}
