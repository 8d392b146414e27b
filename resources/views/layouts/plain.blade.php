<!doctype html>
<html lang="en">
<head>
    <meta charset="utf-8">
    <meta name="viewport" content="width=device-width, initial-scale=1">
    <meta name="csrf-token" content="{{ csrf_token() }}">
    <meta name="csp-nonce" content="{{ $nonce ?? '' }}">
    <meta name="htmx-config" content='{
        "includeIndicatorStyles": false, "allowEval": false, "historyCacheSize": 0, "refreshOnHistoryMiss": true,
        "responseHandling": [
            {"code": "204", "swap": false}, {"code": "[23]..", "swap": true}, {"code": "422", "swap": true},
            {"code": "[45]..", "swap": false, "error": true}
        ]}'>
    <title>@yield('title') · Deep Spring</title>
    <link rel="icon" href="/icon.svg" type="image/svg+xml">
    @vite(['resources/css/app.css', 'resources/js/app.js'])
    @stack('head')
</head>
<body>
@yield('page')
</body>
</html>
