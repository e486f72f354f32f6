"""What a pool's machines do: for now, how much chlorine a cell and tablets give."""
