package exchange

import (
	"bytes"
	"errors"
	"fmt"
	"io"
	"strings"
	"time"

	"github.com/emersion/go-message"
	_ "github.com/emersion/go-message/charset" // letters come in older character sets too
	"github.com/emersion/go-message/mail"
)

// Letter is an electronic letter, RFC 5322.
type Letter struct {
	ID       string // without the angle brackets
	Answers  string // the ID of the letter that it answers, "" for none
	From, To Address
	Subject  string
	At       time.Time
	Text     string     // plain, its lines ended by "\n"
	Attached []Attached // read by name and type alone
	Quoted   bool       // what an answer quotes was left out of the text
}

// Address is whom a letter is from or to.
type Address struct{ Name, Address string }

// Attached is a file of a letter.
type Attached struct {
	Name, Type string
	Content    []byte
}

// ErrNoLetter says that a file is no letter.
var ErrNoLetter = errors.New("this is no letter")

// WriteLetter writes a letter as a file.
func WriteLetter(l Letter) ([]byte, error) {
	var h mail.Header
	h.SetDate(l.At)
	h.SetAddressList("From", []*mail.Address{{Name: l.From.Name, Address: l.From.Address}})
	h.SetAddressList("To", []*mail.Address{{Name: l.To.Name, Address: l.To.Address}})
	h.SetSubject(l.Subject)
	h.SetMessageID(l.ID)
	if l.Answers != "" {
		h.SetMsgIDList("In-Reply-To", []string{l.Answers})
		h.SetMsgIDList("References", []string{l.Answers})
	}
	var out bytes.Buffer
	w, err := mail.CreateWriter(&out, h)
	if err != nil {
		return nil, err
	}
	var text mail.InlineHeader
	text.SetContentType("text/plain", map[string]string{"charset": "utf-8"})
	part, err := w.CreateSingleInline(text)
	if err != nil {
		return nil, err
	}
	if err := fill(part, []byte(strings.ReplaceAll(l.Text, "\n", "\r\n"))); err != nil {
		return nil, err
	}
	for _, file := range l.Attached {
		var h mail.AttachmentHeader
		h.SetFilename(file.Name)
		h.SetContentType(file.Type, map[string]string{"charset": "utf-8"})
		part, err := w.CreateAttachment(h)
		if err != nil {
			return nil, err
		}
		if err := fill(part, file.Content); err != nil {
			return nil, err
		}
	}
	if err := w.Close(); err != nil {
		return nil, err
	}
	return out.Bytes(), nil
}

func fill(part io.WriteCloser, content []byte) error {
	_, err := part.Write(content)
	return errors.Join(err, part.Close())
}

// ReadLetter reads a letter from a file: its plain text without what it quotes, and what its files are called. What is no letter is
// ErrNoLetter.
func ReadLetter(raw []byte) (l Letter, err error) {
	r, err := mail.CreateReader(bytes.NewReader(raw))
	if err != nil && !message.IsUnknownCharset(err) {
		return l, fmt.Errorf("%w: %w", ErrNoLetter, err)
	}
	defer r.Close()
	from, err := r.Header.AddressList("From")
	if err != nil || len(from) == 0 {
		return l, ErrNoLetter
	}
	l.From = Address{from[0].Name, from[0].Address}
	if to, err := r.Header.AddressList("To"); err == nil && len(to) > 0 {
		l.To = Address{to[0].Name, to[0].Address}
	}
	l.Subject, _ = r.Header.Subject() // a letter without one is a letter
	l.At, _ = r.Header.Date()
	l.ID, _ = r.Header.MessageID()
	if answers, err := r.Header.MsgIDList("In-Reply-To"); err == nil && len(answers) > 0 {
		l.Answers = answers[0]
	}
	for {
		part, err := r.NextPart()
		if errors.Is(err, io.EOF) {
			return l, nil
		}
		if err != nil && !message.IsUnknownCharset(err) {
			return l, fmt.Errorf("%w: %w", ErrNoLetter, err)
		}
		if err := l.reads(part); err != nil {
			return l, fmt.Errorf("%w: %w", ErrNoLetter, err)
		}
	}
}

// reads reads one part.
func (l *Letter) reads(part *mail.Part) error {
	switch h := part.Header.(type) {
	case *mail.AttachmentHeader:
		name, _ := h.Filename()
		kind, _, _ := h.ContentType()
		l.Attached = append(l.Attached, Attached{Name: name, Type: kind})
	case *mail.InlineHeader:
		kind, _, _ := h.ContentType()
		if kind != "text/plain" || l.Text != "" {
			return nil
		}
		text, err := io.ReadAll(part.Body)
		if err != nil {
			return err
		}
		l.Text, l.Quoted = own(string(text))
	}
	return nil
}

// own leaves out what an answer quotes: lines that begin with ">", with the one above them that says whose they are.
func own(text string) (kept string, quoted bool) {
	var lines []string
	for line := range strings.Lines(strings.ToValidUTF8(strings.ReplaceAll(text, "\r\n", "\n"), "\uFFFD")) {
		line = strings.TrimRight(line, " \t\r\n")
		if !strings.HasPrefix(line, ">") {
			lines = append(lines, line)
			continue
		}
		if last := len(lines) - 1; !quoted && last >= 0 && strings.HasSuffix(lines[last], ":") {
			lines = lines[:last]
		}
		quoted = true
	}
	return strings.TrimSpace(strings.Join(lines, "\n")), quoted
}
