"""Closed meshes of stone, head and shank: mass, section, silhouette, clash."""
