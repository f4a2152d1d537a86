"""What a drum that was struck is heard to do: lines of a stroke, and which partials they are."""
