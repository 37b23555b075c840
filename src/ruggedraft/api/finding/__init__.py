"""Find: which drive on which shelf holds this clip?"""
