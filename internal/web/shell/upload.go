package shell

import (
	"io"

	"github.com/gofiber/fiber/v3"
)

// File is what was chosen in a field of a form for a file, nil where nothing was.
func File(c fiber.Ctx, field string) ([]byte, error) {
	header, err := c.FormFile(field)
	if err != nil {
		return nil, nil //nolint:nilerr,nilnil // no file was chosen
	}
	file, err := header.Open()
	if err != nil {
		return nil, err
	}
	defer file.Close()
	return io.ReadAll(io.LimitReader(file, BodyLimit))
}

// Download sends a file of ours to be kept.
func Download(c fiber.Ctx, name string, body []byte) error {
	c.Set(fiber.HeaderContentType, "application/json; charset=utf-8")
	c.Set(fiber.HeaderContentDisposition, `attachment; filename="`+name+`"`)
	c.Set(fiber.HeaderCacheControl, "private, no-store")
	return c.Send(body)
}
