"""Cut files: true size in mm, one origin for all plies, mirrored where the material says so."""
