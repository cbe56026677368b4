"""Steps of the work as edits of a rig's state: after each one it is asked what holds, hands on and hands off."""
