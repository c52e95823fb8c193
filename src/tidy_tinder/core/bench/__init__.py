"""At the drawing: how long what was wetted takes to dry, which section comes next, what the log says was done."""
