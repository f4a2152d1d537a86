"""The heads as vibrating films: mass matrices, sections, the recoil of the shell."""
