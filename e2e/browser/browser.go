// Package browser drives Chromium for the browser tests and for the pictures in docs/screenshots.
package browser

import (
	"context"
	"encoding/json"
	"fmt"
	"os"
	"os/exec"
	"path/filepath"
	"regexp"
	"strings"
	"sync"
	"time"

	"github.com/chromedp/cdproto/cdp"
	"github.com/chromedp/cdproto/emulation"
	"github.com/chromedp/cdproto/input"
	"github.com/chromedp/cdproto/log"
	"github.com/chromedp/cdproto/page"
	"github.com/chromedp/cdproto/runtime"
	"github.com/chromedp/cdproto/webauthn"
	"github.com/chromedp/chromedp"
)

// A step of a page that takes longer than this has failed.
const patience = 20 * time.Second

// Browser is one Chromium; pages in it share nothing.
type Browser struct {
	ctx   context.Context
	close []context.CancelFunc
}

// Start starts Chromium, or says why it cannot.
func Start() (*Browser, error) { return start() }

// Trusting starts one that trusts an authority, as a phone does that was told to: its certificate is put where this system's
// own are (its own home, and certutil).
func Trusting(home string, root []byte) (*Browser, error) {
	store := filepath.Join(home, ".pki", "nssdb")
	if err := os.MkdirAll(store, 0o700); err != nil {
		return nil, err
	}
	file := filepath.Join(home, "root.pem")
	if err := os.WriteFile(file, root, 0o600); err != nil {
		return nil, err
	}
	for _, args := range [][]string{{"-N", "--empty-password"}, {"-A", "-t", "C,,", "-n", "patientfox", "-i", file}} {
		if out, err := exec.Command("certutil", append([]string{"-d", "sql:" + store}, args...)...).CombinedOutput(); err != nil {
			return nil, fmt.Errorf("certutil: %w: %s", err, out)
		}
	}
	return start(chromedp.Env("HOME=" + home))
}

func start(more ...chromedp.ExecAllocatorOption) (*Browser, error) {
	options := append(chromedp.DefaultExecAllocatorOptions[:],
		chromedp.NoSandbox, chromedp.Flag("disable-quic", true), chromedp.Flag("disable-component-update", true),
		chromedp.Flag("hide-scrollbars", true), chromedp.Flag("host-resolver-rules", "MAP *.localtest 127.0.0.1"),
		chromedp.Flag("font-render-hinting", "none"),
	)
	options = append(options, more...)
	if path := os.Getenv("CHROMIUM"); path != "" {
		options = append(options, chromedp.ExecPath(path))
	}
	allocated, cancel := chromedp.NewExecAllocator(context.Background(), options...)
	ctx, stop := chromedp.NewContext(allocated)
	b := &Browser{ctx, []context.CancelFunc{stop, cancel}}
	if err := chromedp.Do(ctx, chromedp.Navigate("about:blank")); err != nil {
		b.Close()
		return nil, fmt.Errorf("chromium does not start: %w", err)
	}
	return b, nil
}

// Close ends Chromium.
func (b *Browser) Close() {
	for _, end := range b.close {
		end()
	}
}

// Page is one page. Whatever fails goes to Fail, which must not return.
type Page struct {
	ctx   context.Context
	Close func()
	base  string
	Fail  func(format string, args ...any)

	touch  bool          // clicks are taps
	shift  time.Duration // of its clock
	lock   sync.Mutex
	errors []string
}

// Size is a window.
type Size struct {
	W, H  int64
	Phone bool
}

// The two windows that every screen is looked at in.
var (
	Laptop = Size{1280, 800, false}
	Phone  = Size{390, 844, true}
)

// Page opens a page with its own storage, at a server's address.
func (b *Browser) Page(base string, size Size, fail func(format string, args ...any)) *Page {
	ctx, cancel := chromedp.NewContext(b.ctx, chromedp.WithNewBrowserContext())
	p := &Page{ctx: ctx, Close: cancel, base: base, Fail: fail}
	p.prepare(size)
	return p
}

// Tab opens a second tab beside a page, with the same storage.
func (p *Page) Tab(size Size) *Page {
	ctx, cancel := chromedp.NewContext(p.ctx)
	tab := &Page{ctx: ctx, Close: cancel, base: p.base, Fail: p.Fail}
	tab.prepare(size)
	tab.Clock(p.shift)
	return tab
}

func (p *Page) prepare(size Size) {
	if err := chromedp.Do(p.ctx, chromedp.Navigate("about:blank")); err != nil {
		p.Fail("opening a page: %v", err)
	}
	if err := chromedp.Listen(p.ctx, p.listen); err != nil {
		p.Fail("listening: %v", err)
	}
	p.onNewDocument("watching the Run screen", watch)
	p.onNewDocument("watching what is touched", touched)
	p.Resize(size)
}

// watch lets the tests see what the modules of the Run screen share, as window.patientfox: the screen itself has no global.
const watch = `addEventListener("DOMContentLoaded", async () => {
	const run = document.querySelector('script[src*="/run/run.js"]');
	if (run) window.patientfox = (await import(new URL("state.js", run.src))).state;
})`

// touched keeps what was touched and pressed last on a page, for a failure's message.
const touched = `window.touched = [];
for (const kind of ["pointerdown", "keydown", "click", "focusin"]) addEventListener(kind, (e) => {
	const at = e.target instanceof Element ? e.target.id || Object.values(e.target.dataset)[0] || e.target.localName : "";
	window.touched = [...window.touched.slice(-29), Math.round(performance.now()) + " " + kind + " " + at + (e.key ? " " + e.key : "")];
}, true)`

// onNewDocument runs a script at the head of each page from the next on.
func (p *Page) onNewDocument(what, script string) {
	p.do(what, chromedp.Action[chromedp.Void](func(ctx context.Context, t *chromedp.Target) (chromedp.Void, error) {
		_, err := cdp.Call(ctx, t, page.AddScriptToEvaluateOnNewDocument, page.AddScriptToEvaluateOnNewDocumentParams{Source: script})
		return chromedp.Void{}, err
	}))
}

// listen keeps what goes wrong in the page's scripts, and what its policy refuses.
func (p *Page) listen(event any) {
	p.lock.Lock()
	defer p.lock.Unlock()
	switch e := event.(type) {
	case *runtime.EventExceptionThrown:
		says := e.ExceptionDetails.Text
		if thrown := e.ExceptionDetails.Exception; thrown != nil {
			says += " " + thrown.Description
		}
		p.errors = append(p.errors, fmt.Sprint(says, " ", e.ExceptionDetails.URL))
	case *log.EventEntryAdded:
		// A pack's or a sheet's 503 is no fault: what was logged just now is being read, and the page asks again.
		asked := strings.Contains(e.Entry.URL, "/api/packs/") || strings.Contains(e.Entry.URL, "/api/sheets/")
		behind := asked && strings.Contains(e.Entry.Text, "status of 503")
		if e.Entry.Level == "error" && !behind {
			p.errors = append(p.errors, e.Entry.Text)
		}
	}
}

// Errors returns what went wrong in the page's scripts so far, and forgets it.
func (p *Page) Errors() []string {
	p.lock.Lock()
	defer p.lock.Unlock()
	errors := p.errors
	p.errors = nil
	return errors
}

// Resize makes the window another one.
func (p *Page) Resize(size Size) {
	options := []chromedp.EmulateViewportOption{chromedp.EmulateScale(1)}
	if size.Phone {
		options = append(options, chromedp.EmulateMobile, chromedp.EmulateTouch)
	}
	p.touch = size.Phone
	p.do(fmt.Sprintf("window %dx%d", size.W, size.H), chromedp.EmulateViewport(size.W, size.H, options...))
}

func (p *Page) do(what string, steps ...chromedp.Action[chromedp.Void]) {
	ctx, cancel := context.WithTimeout(p.ctx, patience)
	defer cancel()
	err := chromedp.Do(ctx, steps...)
	for err != nil && drawnAnew(err) && ctx.Err() == nil {
		err = chromedp.Do(ctx, steps...)
	}
	if err != nil {
		p.Fail("%s: %v\n%s", what, err, p.state())
	}
}

// drawnAnew is true where the page drew a thing anew between its being found and its being used: nothing was done yet, and a
// person's finger would have met the new one.
func drawnAnew(err error) bool {
	return strings.Contains(err.Error(), "Could not find node with given id")
}

// state describes the page, for a failure's message.
func (p *Page) state() string {
	text, err := chromedp.Run(p.ctx,
		chromedp.Evaluate[string](`location.pathname + location.search + "\n" + document.body.innerText.slice(0, 1200) +
			"\n" + (window.touched || []).join(", ")`))
	if err != nil {
		return err.Error()
	}
	return text
}

// Go opens an address of the server.
func (p *Page) Go(path string) {
	p.do("going to "+path, chromedp.Navigate(p.base+path))
	p.Wait(arrived)
}

// Open opens a file of this machine, as somebody does who was sent it.
func (p *Page) Open(file string) {
	p.do("opening "+file, chromedp.Navigate("file://"+file))
	p.Wait(`document.readyState === "complete"`)
}

// arrived is true on a page that has come and will not show itself anew: one that depends on sessions which are being
// read does so when they are read, unless it was used meanwhile, and then offers a link. A Run screen is one that is watched.
const arrived = `(() => { const reading = document.getElementById("reading");
	const watched = window.patientfox || !document.querySelector('script[src*="/run/run.js"]');
	return !window.leaving && document.readyState === "complete" && watched && (!reading || !reading.querySelector("a").hidden) })()`

// Click clicks what a CSS selector names, once it can be seen; on a phone it touches it.
func (p *Page) Click(css string) {
	click := chromedp.Click(chromedp.CSS(css))
	if p.touch {
		click = chromedp.Tap(chromedp.CSS(css))
	}
	p.do("looking for "+css, chromedp.WaitVisible(chromedp.CSS(css)))
	p.still(css)
	p.do("clicking "+css, click)
}

// still waits until an element stays where it is from one frame to the next: what is measured while a board is being laid out anew is
// pressed beside.
func (p *Page) still(css string) {
	Get[bool](p, `new Promise((done) => {
		let was = "";
		const look = () => {
			const node = document.querySelector(`+quote(css)+`);
			const now = node ? JSON.stringify(node.getBoundingClientRect()) : "gone";
			if (now === was) return done(true);
			was = now;
			requestAnimationFrame(look);
		};
		look();
	})`)
}

// Follow clicks a link or button that leads to another page, and waits until that is there.
func (p *Page) Follow(css string) {
	p.Eval(`window.leaving = true`)
	p.Click(css)
	p.Wait(arrived)
}

// Fill types into a field, in place of what it held.
func (p *Page) Fill(css, text string) {
	p.do("finding "+css, chromedp.WaitVisible(chromedp.CSS(css)))
	p.Eval(`const f = document.querySelector(` + quote(css) + `); f.value = ""; f.focus()`)
	p.do("filling "+css, chromedp.SendKeys(chromedp.CSS(css), text))
}

// Choose picks an option of a select by its text.
func (p *Page) Choose(css, text string) {
	ok := Get[bool](p, fmt.Sprintf(`(() => { const s = document.querySelector(%s);
		const o = [...s.options].find((o) => o.text.includes(%s)); if (!o) return false;
		s.value = o.value; s.dispatchEvent(new Event("change", { bubbles: true })); return true })()`, quote(css), quote(text)))
	if !ok {
		p.Fail("%s has no option %q", css, text)
	}
}

// Drag moves the mouse from the middle of one thing to the middle of another with its button held, and
// waits for the page that this leads to.
func (p *Page) Drag(from, to string) {
	p.Eval(`document.querySelector(` + quote(from) + `).scrollIntoView({ block: "center" })`)
	middle := func(css string) (x, y float64) {
		at := Get[[]float64](p, `(() => { const r = document.querySelector(`+quote(css)+`).getBoundingClientRect();
			return [r.left + r.width / 2, r.top + r.height / 2] })()`)
		return at[0], at[1]
	}
	x, y := middle(from)
	toX, toY := middle(to)
	p.Eval(`window.leaving = true`)
	p.do("dragging "+from+" to "+to,
		chromedp.MouseEvent(input.DispatchMouseEventTypeMousePressed, x, y, chromedp.ButtonLeft, chromedp.ClickCount(1)),
		chromedp.MouseEvent(input.DispatchMouseEventTypeMouseMoved, (x+toX)/2, (y+toY)/2, chromedp.ButtonLeft),
		chromedp.MouseEvent(input.DispatchMouseEventTypeMouseMoved, toX, toY, chromedp.ButtonLeft),
		chromedp.MouseEvent(input.DispatchMouseEventTypeMouseReleased, toX, toY, chromedp.ButtonLeft, chromedp.ClickCount(1)))
	p.Wait(arrived)
}

// Touch taps, or clicks, the middle of a drawn thing.
func (p *Page) Touch(css string) {
	at := Get[[]float64](p, `(() => { const r = document.querySelector(`+quote(css)+`).getBoundingClientRect();
		return [r.left + r.width / 2, r.top + r.height / 2] })()`)
	if !p.touch {
		p.do("clicking "+css, chromedp.MouseClickXY(at[0], at[1]))
		return
	}
	p.do("touching "+css, chromedp.TapXY(at[0], at[1]))
}

// Slow makes the page's processor slower by a factor; 1 is its own speed.
func (p *Page) Slow(times float64) {
	p.do("slowing down", chromedp.Action[chromedp.Void](func(ctx context.Context, t *chromedp.Target) (chromedp.Void, error) {
		_, err := cdp.Call(ctx, t, emulation.SetCPUThrottlingRate, emulation.SetCPUThrottlingRateParams{Rate: times})
		return chromedp.Void{}, err
	}))
}

// At reaches the server by another address from the next page on.
func (p *Page) At(base string) { p.base = base }

// Authenticator gives the page a device that keeps passkeys and knows whose finger it is.
func (p *Page) Authenticator() {
	p.do("plugging an authenticator in", chromedp.Action[chromedp.Void](func(ctx context.Context, t *chromedp.Target) (chromedp.Void, error) {
		if _, err := cdp.Call(ctx, t, webauthn.Enable, webauthn.EnableParams{}); err != nil {
			return chromedp.Void{}, err
		}
		_, err := cdp.Call(ctx, t, webauthn.AddVirtualAuthenticator, webauthn.AddVirtualAuthenticatorParams{
			Options: &webauthn.VirtualAuthenticatorOptions{
				Protocol: webauthn.AuthenticatorProtocolCtap2, Transport: webauthn.AuthenticatorTransportInternal, HasResidentKey: true,
				HasUserVerification: true, IsUserVerified: true, AutomaticPresenceSimulation: true,
			},
		})
		return chromedp.Void{}, err
	}))
}

// Clock moves the page's wall clock by so much from the next page on; the first move counts from the true clock, a later
// one from the one before.
func (p *Page) Clock(by time.Duration) {
	p.shift += by
	script := fmt.Sprintf(`Date = class extends Date {
		constructor(...at) { at.length ? super(...at) : super(Date.now()) }
		static { const now = Date.now; this.now = () => now() + %d }
	}`,
		by.Milliseconds())
	p.onNewDocument("setting the clock", script)
}

// Upload chooses a file in a file field.
func (p *Page) Upload(css, file string) {
	p.do("choosing "+file, chromedp.SetUploadFiles(chromedp.CSS(css), []string{file}))
}

// KeysFollow presses keys that lead to another page, and waits until that is there.
func (p *Page) KeysFollow(keys string) {
	p.Eval(`window.leaving = true`)
	p.Keys(keys)
	p.Wait(arrived)
}

// Keys presses keys on the keyboard.
func (p *Page) Keys(keys string) { p.do("pressing "+keys, chromedp.KeyEvent(keys)) }

// Eval runs a script.
func (p *Page) Eval(script string) {
	Get[bool](p, "(() => { "+script+"; return true })()")
}

// Get runs an expression and returns its value, awaiting a promise.
func Get[T any](p *Page, expression string) T {
	ctx, cancel := context.WithTimeout(p.ctx, patience)
	defer cancel()
	value, err := chromedp.Run(ctx, chromedp.Evaluate[T](expression, func(e *runtime.EvaluateParams) {
		yes := true
		e.AwaitPromise = &yes
	}))
	if err != nil {
		p.Fail("%s: %v\n%s", expression, err, p.state())
	}
	return value
}

// Wait waits until an expression is true; a page that is left meanwhile is waited for too.
func (p *Page) Wait(expression string) {
	ctx, cancel := context.WithTimeout(p.ctx, patience)
	defer cancel()
	for {
		ok, err := chromedp.Run(ctx, chromedp.Poll[bool]("Boolean("+expression+")", chromedp.WithPollingTimeout(patience)))
		if err == nil && ok {
			return
		}
		if ctx.Err() != nil || err == nil {
			p.Fail("waiting for %s: %v\n%s", expression, err, p.state())
			return
		}
		if !strings.Contains(err.Error(), "context") && !strings.Contains(err.Error(), "navigat") && !strings.Contains(err.Error(), "undefined") {
			p.Fail("waiting for %s: %v\n%s", expression, err, p.state())
			return
		}
	}
}

// See waits until the page shows a text.
func (p *Page) See(text string) { p.Wait(`document.body.innerText.includes(` + quote(text) + `)`) }

// Text is what an element shows.
func (p *Page) Text(css string) string {
	return Get[string](p, `document.querySelector(`+quote(css)+`).innerText`)
}

// Path is the page's address without the server.
func (p *Page) Path() string { return Get[string](p, `location.pathname`) }

// Shot writes a picture of the window, or of the whole page.
func (p *Page) Shot(file string, whole bool) {
	p.Eval(`document.fonts.ready`)
	p.Wait(`document.getAnimations().every((one) => one.playState !== "running")`)
	action := chromedp.CaptureScreenshot()
	if whole {
		action = chromedp.FullScreenshot(100)
	}
	ctx, cancel := context.WithTimeout(p.ctx, patience)
	defer cancel()
	png, err := chromedp.Run(ctx, action)
	if err == nil {
		if err = os.MkdirAll(filepath.Dir(file), 0o755); err == nil {
			err = os.WriteFile(file, png, 0o644)
		}
	}
	if err != nil {
		p.Fail("a picture for %s: %v", file, err)
	}
}

// PDF is the page as it prints, on A4.
func (p *Page) PDF() []byte {
	ctx, cancel := context.WithTimeout(p.ctx, patience)
	defer cancel()
	const inch = 25.4
	pdf, err := chromedp.Run(ctx, chromedp.Action[[]byte](func(ctx context.Context, t *chromedp.Target) ([]byte, error) {
		result, err := cdp.Call(ctx, t, page.PrintToPDF, page.PrintToPDFParams{PaperWidth: 210 / inch, PaperHeight: 297 / inch})
		if err != nil {
			return nil, err
		}
		return result.Data, nil
	}))
	if err != nil {
		p.Fail("printing: %v", err)
	}
	return pdf
}

// PDFPages is on how many pages it prints.
func (p *Page) PDFPages() int { return len(pdfPage.FindAll(p.PDF(), -1)) }

var pdfPage = regexp.MustCompile(`/Type\s*/Page[^s]`)

func quote(s string) string {
	raw, err := json.Marshal(s)
	if err != nil {
		panic(err)
	}
	return string(raw)
}
