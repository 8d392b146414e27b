about {{ \DeepSpring\Value\Phrase::bytes($cost->bytes) }}, {{ \DeepSpring\Value\Phrase::duration($cost->milliseconds) }}<br><small>measured with
    {{ \App\View\Show::count($cost->measured, 'row') }}</small>
