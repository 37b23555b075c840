"""Holds, waivers, signatures, clearances: may this card be reused?"""
