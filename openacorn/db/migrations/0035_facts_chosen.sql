-- Which listing said what is chosen from the listings whenever somebody asks.
DROP TABLE fact;
