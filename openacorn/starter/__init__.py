"""New websites for businesses, begun: their outline, copy and look, shown to owners and handed out as files."""
