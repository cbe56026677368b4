"""What a load cell reads in the rig: predicted for a state, simulated, watched for what goes wrong, and learnt from."""
