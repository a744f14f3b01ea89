package exchange_test

import (
	"encoding/base64"
	"io"
	"mime"
	"mime/multipart"
	"net/mail"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"patientfox/internal/exchange"
)

var letter = exchange.Letter{
	ID: "one@post.invalid", Answers: "zero@post.invalid",
	From: exchange.Address{Name: "Kittiwake Quay, “dogs”", Address: "school@post.invalid"},
	To:   exchange.Address{Name: "Nan Fenwick 🦊", Address: "nan@post.invalid"}, Subject: "Homework: Pilchard, “the lad” 🐟",
	At:   time.Date(2026, 11, 30, 9, 5, 0, 0, time.UTC),
	Text: "Short and often.\nStop while he still wants more: “five”, then rest.\n.\nFrom here on",
	Attached: []exchange.Attached{{
		Name: "homework Pilchard.html", Type: "text/html", Content: []byte("<p>Sit 🐕</p>\n" + strings.Repeat("x", 2000)),
	}},
}

// What is written is read by another parser than the one that wrote it.
func TestALetterIsReadByOthers(t *testing.T) {
	raw, err := exchange.WriteLetter(letter)
	require.NoError(t, err)
	for line := range strings.SplitSeq(string(raw), "\r\n") {
		require.LessOrEqual(t, len(line), 998)
	}
	m, err := mail.ReadMessage(strings.NewReader(string(raw)))
	require.NoError(t, err)
	from, err := m.Header.AddressList("From")
	require.NoError(t, err)
	require.Equal(t, letter.From, exchange.Address(*from[0]))
	at, err := m.Header.Date()
	require.NoError(t, err)
	require.True(t, letter.At.Equal(at))
	subject, err := new(mime.WordDecoder).DecodeHeader(m.Header.Get("Subject"))
	require.NoError(t, err)
	require.Equal(t, letter.Subject, subject)
	require.Equal(t, "<zero@post.invalid>", m.Header.Get("In-Reply-To"))
	kind, params, err := mime.ParseMediaType(m.Header.Get("Content-Type"))
	require.NoError(t, err)
	require.Equal(t, "multipart/mixed", kind)
	parts := multipart.NewReader(m.Body, params["boundary"])
	text, err := parts.NextPart()
	require.NoError(t, err)
	body, err := io.ReadAll(text)
	require.NoError(t, err)
	require.Equal(t, strings.ReplaceAll(letter.Text, "\n", "\r\n"), string(body))
	file, err := parts.NextRawPart()
	require.NoError(t, err)
	require.Equal(t, "homework Pilchard.html", file.FileName())
	require.Equal(t, "base64", file.Header.Get("Content-Transfer-Encoding"))
	content, err := io.ReadAll(base64.NewDecoder(base64.StdEncoding, file))
	require.NoError(t, err)
	require.Equal(t, letter.Attached[0].Content, content)
	_, err = parts.NextPart()
	require.ErrorIs(t, err, io.EOF)

	back, err := exchange.ReadLetter(raw)
	require.NoError(t, err)
	back.Attached[0].Content = letter.Attached[0].Content
	back.At = back.At.UTC()
	require.Equal(t, letter, back)
}

// Letters of other programs are read: other character sets, a quoted letter below, HTML beside the text.
func TestLettersOfOthersAreRead(t *testing.T) {
	l, err := exchange.ReadLetter([]byte("From: Hob <hob@boat.invalid>\r\nTo: school@post.invalid\r\nSubject: =?iso-8859-1?Q?R=E9?=\r\n" +
		"In-Reply-To: <one@post.invalid>\r\nMIME-Version: 1.0\r\nContent-Type: multipart/alternative; boundary=b\r\n\r\n" +
		"--b\r\nContent-Type: text/plain; charset=iso-8859-1\r\nContent-Transfer-Encoding: quoted-printable\r\n\r\n" +
		"down 4 of 5 caf=E9\r\n\r\nOn Monday the school wrote:\r\n> Five, then a rest.\r\n>\r\n--b\r\nContent-Type: text/html\r\n\r\n" +
		"<p>down</p>\r\n--b--\r\n"))
	require.NoError(t, err)
	require.Equal(t, "down 4 of 5 café", l.Text)
	require.True(t, l.Quoted)
	require.Equal(t, []string{"Ré", "one@post.invalid", "hob@boat.invalid"}, []string{l.Subject, l.Answers, l.From.Address})
	for _, none := range []string{"", "a line", "<html></html>", "Subject: nobody\r\n\r\ntext", "From: hob\r\n\r\ntext"} {
		_, err := exchange.ReadLetter([]byte(none))
		require.ErrorIs(t, err, exchange.ErrNoLetter, none)
	}
}

func TestAnyTextOfALetterComesBack(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		l := letter
		l.Subject = strings.TrimSpace(rapid.StringMatching(`[ -~é🦊]{0,120}`).Draw(t, "subject"))
		l.Text = strings.TrimSpace(rapid.StringMatching(`[a-z,.“”🦊 ]{0,200}(\n[a-z.é ]{0,90}){0,5}`).Draw(t, "text"))
		raw, err := exchange.WriteLetter(l)
		require.NoError(t, err)
		back, err := exchange.ReadLetter(raw)
		require.NoError(t, err)
		trimmed := func(text string) string {
			lines := strings.Split(text, "\n")
			for i := range lines {
				lines[i] = strings.TrimRight(lines[i], " ")
			}
			return strings.Join(lines, "\n")
		}
		require.Equal(t, trimmed(l.Text), back.Text)
		require.Equal(t, strings.Join(strings.Fields(l.Subject), " "), strings.Join(strings.Fields(back.Subject), " "))
	})
}

func FuzzReadLetter(f *testing.F) {
	raw, err := exchange.WriteLetter(letter)
	require.NoError(f, err)
	f.Add(raw)
	f.Fuzz(func(t *testing.T, raw []byte) {
		l, err := exchange.ReadLetter(raw)
		if err == nil {
			require.NotEmpty(t, l.From.Address)
		}
	})
}
