"""The best rig out of the bags: every whole rig of what is there, and those that no other betters in everything."""
