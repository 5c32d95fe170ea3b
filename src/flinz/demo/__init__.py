"""The made-up world of the Quillmere Allotments: photos, captions, sheets begun."""
