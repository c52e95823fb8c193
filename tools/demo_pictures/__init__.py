"""The demo's reference pictures, rendered: nobody's photographs."""
