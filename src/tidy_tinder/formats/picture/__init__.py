"""Pictures as they come from phones and scanners: told apart, limited before they are decoded, made arrays."""
