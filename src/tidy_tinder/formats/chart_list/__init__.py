"""A list of colours as it stands on a leaflet, a shop's page or in a spreadsheet, read into a chart."""
