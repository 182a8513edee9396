"""The store of derived data: blobs in files or an object store, a book of them in the database."""
