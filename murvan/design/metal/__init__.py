"""Sheet metal: pieces as they stand in space, and the flat patterns they are cut from."""
