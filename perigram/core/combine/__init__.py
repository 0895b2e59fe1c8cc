"""Things combined: pieces told apart and picked, gaps closed, rings, bridges, textures, repeats."""
